import { X } from "lucide-react";
import { useState } from "react";
import type { Became, Remark, Sheet } from "../../api/client";
import { useBecame } from "../../api/remarks";
import { useIssuedView } from "../../desk/use-issued-view";
import { useSheetPicture } from "../../desk/use-sheet-picture";
import type { Camera } from "../../drawing/camera";
import { DrawingCanvas } from "../../drawing/canvas/DrawingCanvas";
import type { Frame, View } from "../../drawing/screen-form";
import { Pins } from "../../remarks/Pins";

const AROUND = 60; // mm of paper to each side of a place

type Props = { project: number; remark: Remark; sheets: Sheet[]; onClose: () => void };

/** A remark at two times side by side: as it was then, and what became of it. */
export function WhatBecame({ project, remark, sheets, onClose }: Props) {
  const { data: became } = useBecame(project, remark.id);
  const [chosen, setChosen] = useState<[number | null, number | null]>([null, null]);
  const last = (became?.length ?? 0) - 1;
  const sides = [chosen[0] ?? 0, chosen[1] ?? last] as const;
  const says = (became ?? []).slice(sides[0] + 1, sides[1] + 1).flatMap((one) => one.says);
  return (
    <section aria-label={`What became of remark ${remark.number}`} className="flex min-h-0 flex-1 flex-col">
      <header className="flex h-8 shrink-0 items-center gap-2 border-b border-base-300 bg-base-200 px-2">
        <h2 className="min-w-0 flex-1 truncate font-semibold">
          <span className="figures">{remark.number}</span> {remark.text}
        </h2>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          <X size={12} /> Back to the remark
        </button>
      </header>
      {became?.length === 0 ? (
        <p className="p-4">What it is on stands on no sheet, and was not issued.</p>
      ) : (
        <div className="flex min-h-0 flex-1">
          {became &&
            sides.map((at, side) => (
              <Side
                // biome-ignore lint/suspicious/noArrayIndexKey: there are two sides
                key={side}
                label={side === 0 ? "Before" : "After"}
                remark={remark}
                times={became}
                at={at}
                sheets={sheets}
                onChoose={(next) => setChosen(side === 0 ? [next, chosen[1]] : [chosen[0], next])}
              />
            ))}
        </div>
      )}
      {became && became.length > 0 && (
        <div className="max-h-40 shrink-0 overflow-y-auto border-t border-base-300 bg-base-200 px-2 py-1 text-sm">
          <p>{says.length > 0 ? says.join("; ") : "Nothing of what it is on changed in between."}</p>
          {remark.answers.map((one) => (
            <p key={one.at}>
              <b>{one.author}:</b> {one.text || one.state}
            </p>
          ))}
        </div>
      )}
    </section>
  );
}

type SideProps = {
  label: string;
  remark: Remark;
  times: Became[];
  at: number;
  sheets: Sheet[];
  onChoose: (at: number) => void;
};

function Side({ label, remark, times, at, sheets, onChoose }: SideProps) {
  const time = times[at];
  const sheet = sheets.find((one) => one.id === time?.sheet);
  return (
    <div className="flex min-w-0 flex-1 flex-col border-r border-base-300 last:border-r-0">
      <div className="flex h-8 shrink-0 items-center gap-2 px-2 text-sm">
        <select
          className="select select-xs w-40"
          aria-label={label}
          value={at}
          onChange={(event) => onChoose(Number(event.target.value))}
        >
          {times.map((one, k) => (
            <option key={one.issued ?? "now"} value={k}>
              {one.issued === null ? "as it is now" : `issued ${one.code}, ${one.date}`}
            </option>
          ))}
        </select>
        {time && (
          <span>
            <span className="figures">{time.number}</span>, {time.state}
          </span>
        )}
      </div>
      {time?.at === null && <p className="px-2 text-sm">What it is on is not there.</p>}
      <div className="min-h-0 flex-1">
        {time &&
          (time.issued === null ? (
            sheet && <AsItIs label={label} remark={remark} time={time} sheet={sheet} />
          ) : (
            <AsIssued label={label} remark={remark} time={time} />
          ))}
      </div>
    </div>
  );
}

type TimeProps = { label: string; remark: Remark; time: Became };

function AsItIs({ sheet, ...shown }: TimeProps & { sheet: Sheet }) {
  const { data } = useSheetPicture(sheet);
  return <Place {...shown} view={data ?? null} />;
}

function AsIssued(shown: TimeProps) {
  const { data } = useIssuedView(shown.time.issued, false);
  return <Place {...shown} view={data ?? null} />;
}

function Place({ label, remark, time, view }: TimeProps & { view: View | null }) {
  const at = time.at && { x: time.at[0], y: time.at[1] };
  const page: Frame | undefined = at
    ? [at.x - AROUND, at.y - AROUND, at.x + AROUND, at.y + AROUND]
    : view?.frame;
  const pin = { ...remark, state: time.state, sketch: [] };
  return (
    <DrawingCanvas
      name={`${label}: ${time.code}`}
      cameraKey={`remark ${remark.id} ${time.issued ?? `now ${time.sheet}`}`}
      view={view}
      page={page}
      onDesk
    >
      {(camera: Camera) => at && <Pins camera={camera} pins={[{ ...pin, at }]} draft={null} />}
    </DrawingCanvas>
  );
}
