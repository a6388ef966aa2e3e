export { SnagForm } from './SnagForm.tsx';
export { Snags } from './Snags.tsx';
export { smallPicture, takenPicture } from './picture.ts';
