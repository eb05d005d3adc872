/** The version of Oiseau, as package.json has it. */
export const VERSION = '0.3.0';
