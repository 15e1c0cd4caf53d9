/** The words of a list that was typed with commas, in small letters. */
export const wordsIn = (typed: string): string[] => [
  ...new Set(
    typed
      .split(",")
      .map((word) => word.trim().toLowerCase())
      .filter(Boolean),
  ),
];
