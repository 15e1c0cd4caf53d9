/** The lines of a rule in words, and the part of particulars where they stand. */
const LINES: Record<string, [words: string, part: string]> = {
  "cut.depth": ["Depth", "Cut"],
  "cut.height": ["Cut height", "Cut"],
  "cut.overhead": ["Overhead", "Cut"],
  begins: ["What it begins with", "Rule"],
  "cut.without": ["Kinds left out", "What shows"],
  "cut.shown_set": ["Shown set", "What shows"],
  "cut.see_through_kinds": ["Kinds seen through", "What shows"],
  "cut.whole_kinds": ["Kinds drawn whole", "What shows"],
  "cut.hidden": ["Hidden lines", "What shows"],
  "cut.glass": ["Glass", "What shows"],
  "style.scale": ["Scale", "Graphics"],
  "style.levels": ["Levels", "Graphics"],
  "style.level_ends": ["Ends of levels", "Graphics"],
  "style.grid": ["Grid", "Graphics"],
  "style.grid_ends": ["Ends of the grid", "Graphics"],
  "style.frame": ["Frame", "Graphics"],
  "style.rooms": ["Rooms", "Graphics"],
  "style.section_rooms": ["Rooms in sections", "Graphics"],
  "style.conventions": ["Conventions", "Graphics"],
  "style.marker": ["Its marker", "Markers"],
  "style.shown_markers": ["Markers that show", "Markers"],
  "style.callouts": ["Markers of callouts", "Graphics"],
  "style.note_margin": ["Room for notes", "Annotations"],
  "style.annotations": ["Annotations", "Annotations"],
  "style.standard": ["Standard", "Graphics"],
  "style.fill": ["Fill", "Graphics"],
  "style.content": ["Content", "Graphics"],
  "style.lengths": ["Lengths", "Graphics"],
  "style.pens": ["Pens", "In this drawing only"],
  "style.materials": ["Materials", "In this drawing only"],
  "style.looks": ["Looks", "In this drawing only"],
  "style.disciplines": ["Disciplines", "Disciplines"],
  "style.appearance": ["Appearance", "Seen surfaces"],
  "style.surfaces": ["Seen surfaces", "Seen surfaces"],
};

export const wordsOf = (line: string): string => LINES[line]?.[0] ?? line;

/** The parts of particulars in which a drawing departs from its rule. */
export const partsOf = (departs: string[]): Set<string> =>
  new Set(departs.flatMap((line) => LINES[line]?.[1] ?? []));
