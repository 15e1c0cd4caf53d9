import { lazy, Suspense, useMemo } from "react";
import type { Cut, Drawing, Project, Settings, Style } from "../../api/client";
import { elementsOf } from "../../api/elements";
import { report } from "../../api/queries";
import { useBench } from "../../desk/drawings-state";

// brings the libraries for three dimensions along, which nobody else needs
const ModelPane = lazy(() => import("../../model/ModelPane").then((m) => ({ default: m.ModelPane })));

type Props = {
  project: Project;
  settings: Settings;
  drawings: Drawing[];
  /** The saved drawing; none while its line is being drawn. */
  drawing: Drawing | undefined;
  spec: { cut: Cut; style: Style } | undefined;
};

/** The building beside source and result, opened where the drawing cuts; what is picked in one is lit in the other. */
export function ModelBeside({ project, settings, drawings, drawing, spec }: Props) {
  const { picked, setPicked, choose } = useBench();
  const said = picked?.many
    ? picked.found.map((e) => e.guid).join(" ")
    : (picked?.found[picked.at]?.guid ?? "");
  const lit = useMemo(() => new Set(said ? said.split(" ") : []), [said]);
  const pick = async (guid: string | null) => {
    if (!guid || !drawing || !spec) {
      setPicked(null);
      return;
    }
    try {
      const found = await elementsOf(project.id, [guid], spec);
      setPicked({ drawing: drawing.id, found, at: 0, many: false });
    } catch (error) {
      report(error);
    }
  };
  return (
    <Suspense fallback={<p className="p-4">Opening …</p>}>
      {spec ? (
        <ModelPane
          project={project}
          settings={settings}
          drawings={drawings}
          drawing={drawing}
          cut={spec.cut}
          style={spec.style}
          lit={lit}
          onPick={pick}
          onChoose={(id) => choose(project.id, id)}
        />
      ) : (
        <p className="p-4">Choose a drawing; the model opens where it cuts.</p>
      )}
    </Suspense>
  );
}
