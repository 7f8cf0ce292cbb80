export { type Gallery, type GalleryOptions, startGallery } from './serve.ts';
