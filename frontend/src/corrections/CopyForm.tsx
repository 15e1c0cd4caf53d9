import { useState } from "react";
import type { CopyCorrection, Project } from "../api/client";
import { correct, NOW, withCorrection } from "../api/corrections";
import { LengthField } from "../fields/LengthField";
import { NumberField } from "../fields/NumberField";
import { CorrectionForm } from "./CorrectionForm";
import { useTryOut } from "./trying";

const AXES = ["Along x", "Along y", "Up"] as const;
const MOST = 60;
const LEVEL = 0.01; // metres; copies nearer to a storey stand in it

type Props = { project: Project; guids: string[]; storey: string; fills: boolean; onDone: () => void };

/** What was picked once more: in other storeys, or so many times at a distance. `fills`: whether windows or doors are
 * among it, without their wall. */
export function CopyForm({ project, guids, storey, fills, onDone }: Props) {
  const copies = project.corrections.filter((one) => "copies" in one) as CopyCorrection[];
  const kept = copies.find((one) => one.elements.some((guid) => guids.includes(guid)));
  const [by, setBy] = useState<number[]>([0, 0, 0]);
  const [times, setTimes] = useState(1);
  const [places, setPlaces] = useState<number[][]>((kept?.copies ?? []).map((one) => [...one]));
  const [reason, setReason] = useState(kept?.reason ?? "");
  const [openings, setOpenings] = useState(kept?.openings ?? fills);
  const { storeys } = project.facts;
  const own = storeys.find((one) => one.name === storey);
  const apart = by.some(Boolean);
  const all = [
    ...places,
    ...(apart ? Array.from({ length: times }, (_, k) => by.map((one) => one * (k + 1))) : []),
  ];
  const wanted = {
    elements: kept?.elements ?? guids,
    copies: all.slice(0, MOST),
    openings,
    reason,
    ...NOW,
  } as CopyCorrection;
  const asDrawn =
    JSON.stringify(all) === JSON.stringify(kept?.copies ?? []) && openings === (kept?.openings ?? fills);
  useTryOut(asDrawn ? null : withCorrection(project, kept ?? null, all.length > 0 ? wanted : null));
  const isIn = (up: number) => places.some(([x, y, z]) => !x && !y && Math.abs((z ?? 0) - up) < LEVEL);
  return (
    <CorrectionForm
      label="Where it shall be once more"
      reason={reason}
      onReason={setReason}
      act="Copy"
      ready={all.length > 0 && (!asDrawn || reason !== (kept?.reason ?? ""))}
      kept={kept !== undefined}
      onDraw={() => {
        correct(project, kept ?? null, wanted);
        onDone();
      }}
      onTakeBack={() => {
        correct(project, kept ?? null, null);
        onDone();
      }}
      onLeave={onDone}
    >
      {own && storeys.length > 1 && (
        <fieldset aria-label="In storeys" className="flex flex-wrap gap-x-3">
          {storeys
            .filter((one) => one.guid !== own.guid)
            .map(({ guid, name, elevation }) => {
              const up = Math.round((elevation - own.elevation) * 1e6) / 1e6;
              return (
                <label key={guid} className="flex items-center gap-1">
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs"
                    checked={isIn(up)}
                    onChange={() =>
                      setPlaces(
                        isIn(up)
                          ? places.filter(([, , z]) => Math.abs((z ?? 0) - up) >= LEVEL)
                          : [...places, [0, 0, up]],
                      )
                    }
                  />
                  {name}
                </label>
              );
            })}
        </fieldset>
      )}
      {AXES.map((axis, k) => (
        <LengthField
          key={axis}
          label={axis}
          value={by[k] ?? 0}
          onChange={(metres) => setBy(by.map((one, n) => (n === k ? (metres ?? 0) : one)))}
        />
      ))}
      {fills && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={openings}
            onChange={() => setOpenings(!openings)}
          />
          in openings of their own
        </label>
      )}
      <NumberField
        label="Times"
        value={times}
        least={1}
        most={MOST}
        onChange={(count) => setTimes(Math.round(count))}
      />
    </CorrectionForm>
  );
}
