/** The foot of a tool whose next step is always the same. */
export const says = (words: string) => () => words;
