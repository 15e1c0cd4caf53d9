import { FlipHorizontal2 } from "lucide-react";
import { useState } from "react";
import { makeWallSection, offerWallSection } from "../../api/callouts";
import { putDrawing, queryClient, report } from "../../api/queries";
import type { Place } from "../../desk/mode";
import { ruleNow } from "../../desk/rules";
import type { Camera } from "../../drawing/camera";
import { Check } from "../../fields/Choice";
import { scaleText } from "../../fields/scale";
import { Outline } from "../callouts/RegionGrips";
import { outlineOf } from "../callouts/region-geometry";
import { RuleChoice } from "../modes/RuleChoice";
import { offer } from "./offer-tool";

type Props = { project: number; plan: number; onMade: (drawing: number) => void };

/** The wall section that is offered: which of its junctions are called out, and the act that makes all of it. */
export function OfferedSection({ project, plan, onMade }: Props) {
  const offered = offer.useHeld();
  const [busy, setBusy] = useState(false);
  const [shares, setShares] = useState(true);
  if (!offered) return null;
  const { at, look, proposal, wanted } = offered;
  const likes = proposal.junctions.flatMap(({ like }, k) => (like ? [k] : []));
  const shared = shares ? likes : [];
  const details = wanted.filter((k) => !shared.includes(k)).length;
  const turn = async () => {
    const other = look === "left" ? "right" : "left";
    try {
      offer.set({ ...offered, look: other, proposal: await offerWallSection(project, at, other) });
    } catch (error) {
      report(error);
    }
  };
  const make = async () => {
    setBusy(true);
    try {
      const made = await makeWallSection(project, {
        at,
        look,
        plan,
        junctions: wanted,
        shared,
        rule: ruleNow(project, "wall section")?.key ?? "",
        detail_rule: ruleNow(project, "detail")?.key ?? "",
      });
      for (const drawing of made) putDrawing(queryClient, project, drawing);
      offer.set(null);
      if (made[0]) onMade(made[0].id);
    } catch (error) {
      report(error);
    }
    setBusy(false);
  };
  return (
    <section
      aria-label="Wall section"
      className="flex max-h-[40%] shrink-0 flex-col gap-1 overflow-y-auto border-b border-base-300 bg-base-100 p-2 text-xs"
    >
      <p className="font-semibold">
        Wall section {scaleText(proposal.style.scale ?? 20)}, with its junctions
      </p>
      <div className="grid grid-cols-2 gap-x-3 gap-y-0.5">
        {proposal.junctions.map((junction, k) => (
          <label key={junction.name} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={wanted.includes(k)}
              onChange={(event) =>
                offer.set({
                  ...offered,
                  wanted: event.target.checked ? [...wanted, k] : wanted.filter((n) => n !== k),
                })
              }
            />
            <span className="min-w-0 flex-1 truncate" title={junction.name}>
              {junction.name}
            </span>
            {junction.like && (
              <span className="max-w-24 truncate opacity-85" title={`It looks like “${junction.like.title}”`}>
                like {junction.like.title}
              </span>
            )}
            <span className="figures opacity-85">{scaleText(junction.scale)}</span>
          </label>
        ))}
      </div>
      {likes.length > 0 && (
        <Check label="Like ones lead to one typical detail" checked={shares} onChange={setShares} />
      )}
      <RuleChoice project={project} kind="wall section" label="Section by" />
      <RuleChoice project={project} kind="detail" label="Details by" />
      <div className="flex gap-1 pt-1">
        <button type="button" className="btn btn-primary btn-xs flex-1" disabled={busy} onClick={make}>
          Make it{details > 0 && ` with ${details} details`}
        </button>
        <button type="button" className="btn btn-xs" onClick={turn} aria-label="Look the other way">
          <FlipHorizontal2 size={13} />
        </button>
        <button type="button" className="btn btn-ghost btn-xs" onClick={() => offer.set(null)}>
          Leave
        </button>
      </div>
    </section>
  );
}

/** The regions of the junctions that are wanted, in the offered section. */
export function OfferedRegions({ camera, scale }: { camera: Camera; scale: number }) {
  const offered = offer.useHeld();
  return offered?.proposal.junctions.map(
    (junction, k) =>
      offered.wanted.includes(k) && (
        <Outline
          key={junction.name}
          camera={camera}
          scale={scale}
          ring={outlineOf(junction.region) as Place[]}
        />
      ),
  );
}
