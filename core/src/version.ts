/** The version of Oiseau, as package.json has it. */
export const VERSION = '0.2.0';
