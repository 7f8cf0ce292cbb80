export { type Gallery, type GalleryOptions, startGallery } from './serve.ts';
export { type SiteOptions, writeSite } from './site.ts';
