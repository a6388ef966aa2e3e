import { expose } from 'comlink';
import { boardApi } from './board.ts';

expose(boardApi());
