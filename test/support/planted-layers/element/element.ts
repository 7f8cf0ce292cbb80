export const element = 'above';
