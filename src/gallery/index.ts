export { type Gallery, type GalleryOptions, startGallery } from './serve.ts';
export { type SiteOptions, sitePolicy, writeSite } from './site.ts';
