/** Words as they begin a line. */
export const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
