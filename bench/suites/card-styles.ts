import { stylesheet } from 'eltrix';

export const colour = 'brown';
export const card = stylesheet`:host { display: block }`;
