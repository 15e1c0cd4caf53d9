const ALIKE: Record<string, string> = { ø: "o", æ: "ae", ß: "ss", đ: "d", ł: "l" };

/** A text as it is looked for: small letters without accents and points, however they were typed. */
export const findable = (text: string) =>
  text
    .toLowerCase()
    .replace(/[øæßđł]/g, (letter) => ALIKE[letter] ?? letter)
    .normalize("NFKD")
    .replace(/\p{Mn}/gu, "");
