import type { PartEdit } from "../api/client";

export type Discipline = NonNullable<PartEdit["discipline"]>;

const WORDS: Record<Discipline, string> = {
  architecture: "Architecture",
  structure: "Structure",
  services: "Services",
  site: "Site",
  furniture: "Furniture",
};

export const DISCIPLINES = Object.entries(WORDS) as [Discipline, string][];

export const disciplineWord = (discipline: Discipline) => WORDS[discipline];
