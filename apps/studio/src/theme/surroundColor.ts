/** The neutral grey about maps and models, as the light box has it now. @returns a CSS colour */
export const surroundColor = (): string => getComputedStyle(document.documentElement).getPropertyValue('--surround');
