import type { Cut, Project, Style } from "../api/client";
import { Choice } from "../fields/Choice";
import { Part } from "../fields/Part";
import { type Discipline, disciplineWord } from "./disciplines";

type Props = {
  project: Project;
  cut: Cut;
  style: Style;
  onSave: (change: { cut?: Cut; style?: Style }) => void;
};

type Shown = "usual" | "as drawn" | "grey" | "outline" | "hidden";

const WAYS: readonly (readonly [Shown, string])[] = [
  ["usual", "as the standard has it"],
  ["as drawn", "drawn in full"],
  ["grey", "grey, below the rest"],
  ["outline", "outlines alone"],
  ["hidden", "left out"],
];

/** How the parts of the model show in a drawing, by whose they are. */
export function DisciplinesPart({ project, cut, style, onSave }: Props) {
  const there = [...new Set((project.facts.parts ?? []).map((p) => p.discipline))];
  if (there.length < 2) return null;
  const hidden = cut.without_disciplines ?? [];
  const choose = (discipline: Discipline, shown: Shown) => {
    const left = hidden.filter((d) => d !== discipline);
    const { [discipline]: _before, ...others } = style.disciplines ?? {};
    const looks = shown === "usual" || shown === "hidden" ? others : { ...others, [discipline]: shown };
    onSave({
      cut: { ...cut, without_disciplines: shown === "hidden" ? [...left, discipline] : left } as Cut,
      style: { ...style, disciplines: looks },
    });
  };
  return (
    <Part title="Disciplines">
      {there.map((discipline) => (
        <Choice<Shown>
          key={discipline}
          label={disciplineWord(discipline)}
          value={hidden.includes(discipline) ? "hidden" : (style.disciplines?.[discipline] ?? "usual")}
          options={WAYS}
          onChange={(shown) => choose(discipline, shown)}
        />
      ))}
    </Part>
  );
}
