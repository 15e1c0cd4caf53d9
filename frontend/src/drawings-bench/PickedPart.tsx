import { EyeOff, X } from "lucide-react";
import { useHotkeys } from "react-hotkeys-hook";
import type { Cut, Element, Standard, Style } from "../api/client";
import { useLook } from "../drawing/look";
import type { Frame } from "../drawing/screen-form";
import { useLengths } from "../fields/lengths";
import { Part } from "../fields/Part";
import { useCommand } from "../shell/commands";
import { useBench } from "./bench-state";
import { LookFields } from "./LookFields";

type Props = {
  title: string;
  cut: Cut;
  style: Style;
  standard: Standard | undefined;
  onSave: (change: { cut?: Cut; style?: Style }) => void;
};

/** Facts of what is picked, and what to do with it in this drawing. */
export function PickedPart({ title, cut, style, standard, onSave }: Props) {
  const { picked, setPicked } = useBench();
  const found = picked?.found ?? [];
  const single = picked !== null && !picked.many;
  const next = () => picked && setPicked({ ...picked, at: (picked.at + 1) % found.length });
  const chosen = picked?.many ? found : found.slice(picked?.at ?? 0, (picked?.at ?? 0) + 1);
  const leaveOut = (guids: string[], kinds: string[]) => {
    setPicked(null);
    onSave({
      cut: {
        ...cut,
        left_out: [...new Set([...(cut.left_out ?? []), ...guids])],
        without: [...new Set([...(cut.without ?? []), ...kinds])].sort(),
      },
    });
  };
  const hide = () =>
    leaveOut(
      chosen.map((e) => e.guid),
      [],
    );
  useHotkeys("tab", next, { enabled: single && found.length > 1, preventDefault: true }, [picked]);
  useHotkeys("escape", () => setPicked(null), { enabled: picked !== null });
  useCommand({
    name: "Hide what is picked",
    group: "Drawing",
    keys: "shift+h",
    enabled: picked !== null,
    run: hide,
  });
  const box = picked && boxOf(chosen, style.scale);
  useCommand({
    name: "Zoom to what is picked",
    group: "Drawing",
    keys: "shift+z",
    enabled: box !== null,
    run: () => picked && box && useLook.getState().lookAt(`drawing ${picked.drawing}`, box),
  });
  if (!picked) return null;
  const element = chosen[0];
  return (
    <Part title={`Picked in ${title}`}>
      <button
        type="button"
        className="btn btn-ghost btn-xs btn-square absolute right-1"
        aria-label="Let go"
        onClick={() => setPicked(null)}
      >
        <X size={12} />
      </button>
      {picked.many ? (
        <p>{found.length} elements</p>
      ) : (
        element && <Facts element={element} place={`${picked.at + 1} of ${found.length}`} onNext={next} />
      )}
      <button type="button" className="btn btn-xs justify-start" onClick={hide}>
        <EyeOff size={13} /> {picked.many ? "Hide them here" : "Hide it here"}
      </button>
      {!picked.many && element && (
        <button
          type="button"
          className="btn btn-xs justify-start"
          onClick={() => leaveOut([], [element.kind])}
        >
          <EyeOff size={13} /> Hide every {element.kind} here
        </button>
      )}
      <LookFields chosen={chosen} cut={cut} style={style} standard={standard} onSave={onSave} />
    </Part>
  );
}

/** Around the lines of elements, mm on paper. */
function boxOf(elements: Element[], scale: number): Frame | null {
  const points = elements.flatMap((e) => e.lines.flat());
  if (points.length === 0) return null;
  const [us, vs] = [points.map((p) => p[0] as number), points.map((p) => p[1] as number)];
  return [Math.min(...us), Math.min(...vs), Math.max(...us), Math.max(...vs)].map(
    (metres) => (metres * 1000) / scale,
  ) as Frame;
}

function Facts({ element, place, onNext }: { element: Element; place: string; onNext: () => void }) {
  const { say } = useLengths();
  const rows: [string, string][] = [
    ["Kind", element.kind],
    ["Storey", element.storey],
    ["Material", element.material],
    ["Build-up", element.build_up],
    ["Thickness", element.thickness ? say(element.thickness) : ""],
    [
      "Layer",
      element.layer ? `${element.layer}: ${element.layer_thickness ? say(element.layer_thickness) : ""}` : "",
    ],
    ["Behind cut", element.depth ? say(element.depth) : ""],
  ];
  return (
    <>
      <p className="pr-5 font-semibold">{element.name || element.kind}</p>
      <dl className="text-xs">
        {rows
          .filter(([, value]) => value !== "")
          .map(([name, value]) => (
            <div key={name} className="flex gap-2">
              <dt className="w-20 shrink-0 opacity-80">{name}</dt>
              <dd className="min-w-0 break-words">{value}</dd>
            </div>
          ))}
      </dl>
      {element.properties.length > 0 && (
        <details className="text-xs">
          <summary className="cursor-pointer py-0.5">Properties in the file</summary>
          <dl className="py-1">
            {element.properties.map(([name, value]) => (
              <div key={name} className="flex gap-2">
                <dt className="w-32 shrink-0 break-words opacity-80">{name}</dt>
                <dd className="min-w-0 break-words">{value}</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
      <button type="button" className="link self-start text-xs" onClick={onNext}>
        {place} here; Tab goes to what lies behind
      </button>
    </>
  );
}
