import '@fontsource-variable/atkinson-hyperlegible-next/index.css';
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css';
import './base.css';
import './book.css';
import './find.css';
import '../ui/ui.css';
import '../ui/room.css';
import '../ui/lines.css';
import '../ui/fields.css';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './App.tsx';
import { workOffline } from './offline.ts';
import { store } from './store.ts';

workOffline();

// The page allows no styles but those it came with and those of the style engine, which knows its nonce.
const styles = createCache({
  key: 'css',
  nonce: document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')!.content,
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <CacheProvider value={styles}>
      <Provider store={store}>
        <App />
      </Provider>
    </CacheProvider>
  </StrictMode>,
);
