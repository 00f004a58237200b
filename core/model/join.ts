/** The words that join the members of a group of conditions. */
export type Join = 'all' | 'any' | 'none';
