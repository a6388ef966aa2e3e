export { SnagForm } from './SnagForm.tsx';
export { Snags } from './Snags.tsx';
export { takenPicture } from './picture.ts';
