export { element } from '../element/element.ts';
