import type { StandardDocument } from "../api/client";

type Materials = StandardDocument["materials"];
export type Strength = "words" | "weak_words";
export type Languages = Record<string, string[]>;

export const ALL = "all";
export const OWN = "own"; // words that are in no shipped list

/** The words of a list that was typed with commas, in small letters. */
export const wordsIn = (typed: string): string[] => [
  ...new Set(
    typed
      .split(",")
      .map((word) => word.trim().toLowerCase())
      .filter(Boolean),
  ),
];

/** Whether a word is of a language, by the shipped lists. */
export function isOf(language: string, languages: Languages): (word: string) => boolean {
  if (language === ALL) return () => true;
  if (language === OWN) {
    const shipped = new Set(Object.values(languages).flat());
    return (word) => !shipped.has(word);
  }
  const own = new Set(languages[language]);
  return (word) => own.has(word);
}

/** Materials with the words of one class that are shown, those of a language, replaced; the others stay. */
export function withWords(
  materials: Materials,
  of: { key: string; strength: Strength; shown: (word: string) => boolean },
  typed: string[],
): Materials {
  const rule = materials[of.key];
  if (!rule) return materials;
  const others = rule[of.strength].filter((word) => !of.shown(word) && !typed.includes(word));
  return { ...materials, [of.key]: { ...rule, [of.strength]: [...others, ...typed] } };
}

/** Materials without the words of a language, where nobody has need of them. */
export function withoutLanguage(materials: Materials, shown: (word: string) => boolean): Materials {
  return Object.fromEntries(
    Object.entries(materials).map(([key, rule]) => [
      key,
      {
        ...rule,
        words: rule.words.filter((word) => !shown(word)),
        weak_words: rule.weak_words.filter((word) => !shown(word)),
      },
    ]),
  );
}
