import { expect, test } from "vitest";
import type { StandardDocument } from "../api/client";
import { ALL, isOf, OWN, withoutLanguage, withWords, wordsIn } from "./words";

const LANGUAGES = { en: ["brick", "masonry"], de: ["ziegel"] };
const RULE = {
  hatch: "",
  tint: "#ffffff",
  strength: 1,
  words: ["brick", "ziegel", "pisé"],
  weak_words: ["mur"],
};
const MATERIALS = { brick: RULE } as unknown as StandardDocument["materials"];

test("words are typed with commas, each once, in small letters", () => {
  expect(wordsIn(" Brick, ,masonry , brick")).toEqual(["brick", "masonry"]);
});

test("words of one language are replaced, those of others stay", () => {
  const shown = isOf("de", LANGUAGES);
  expect(MATERIALS.brick?.words.filter(shown)).toEqual(["ziegel"]);
  const next = withWords(MATERIALS, { key: "brick", strength: "words", shown }, ["klinker", "ziegel"]);
  expect(next.brick?.words).toEqual(["brick", "pisé", "klinker", "ziegel"]);
  expect(next.brick?.weak_words).toEqual(["mur"]);
  expect(MATERIALS.brick?.words.filter(isOf(OWN, LANGUAGES))).toEqual(["pisé"]);
  expect(MATERIALS.brick?.words.filter(isOf(ALL, LANGUAGES))).toHaveLength(3);
});

test("a language that nobody needs is left out", () => {
  expect(withoutLanguage(MATERIALS, isOf("de", LANGUAGES)).brick?.words).toEqual(["brick", "pisé"]);
});
