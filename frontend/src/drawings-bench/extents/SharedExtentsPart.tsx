import { Trash2 } from "lucide-react";
import type { Cut, Drawing, ExtentsBox, SharedExtents } from "../../api/client";
import { putDrawing, queryClient, report } from "../../api/queries";
import { deleteBox, editBox, keepExtents, useSharedExtents } from "../../api/shared-extents";
import { Choice } from "../../fields/Choice";
import { LengthField } from "../../fields/LengthField";
import { NameForm } from "../../fields/NameForm";
import { NumberField } from "../../fields/NumberField";

type Props = { project: number; drawing: Drawing; cut: Cut; onSave: (change: { cut: Cut }) => void };

/** The box in the model that a drawing takes its extents and depth from; those of the project to choose from. */
export function SharedExtentsPart({ project, drawing, cut, onSave }: Props) {
  const { data: boxes = [] } = useSharedExtents(project);
  const followed = boxes.find((b) => b.key === cut.shared_extents);
  const follow = (key: string) => onSave({ cut: { ...cut, shared_extents: key } });
  const act = (work: () => Promise<unknown>) => work().catch(report);
  const keep = (name: string) =>
    act(async () => {
      const made = await keepExtents(project, name, drawing.id);
      putDrawing(queryClient, project, { ...drawing, cut: { ...cut, shared_extents: made.key } });
    });
  return (
    <div className="flex flex-col gap-1 border-t border-base-300 pt-1">
      {(boxes.length > 0 || cut.shared_extents) && (
        <Choice
          label="Follows"
          value={cut.shared_extents ?? ""}
          options={[
            ["", "its own extents"],
            ...(cut.shared_extents && !followed ? [[cut.shared_extents, "lost extents"] as const] : []),
            ...boxes.map((b) => [b.key, b.name] as const),
          ]}
          onChange={follow}
        />
      )}
      {followed ? (
        <>
          <p className="text-xs">
            Extents and depth are those of “{followed.name}”; a side that is moved here moves in every drawing
            that follows it.
          </p>
          <BoxFields
            key={followed.id}
            shared={followed}
            onSave={(change) => act(() => editBox(followed, change))}
          />
          <div className="flex gap-1">
            <button type="button" className="btn btn-xs flex-1" onClick={() => follow("")}>
              Release this drawing
            </button>
            <button
              type="button"
              className="btn btn-ghost btn-xs btn-square"
              aria-label={`Delete ${followed.name}`}
              title="Delete these shared extents; drawings keep what they have"
              onClick={() => act(() => deleteBox(followed.id))}
            >
              <Trash2 size={12} />
            </button>
          </div>
        </>
      ) : (
        <NameForm label="New shared extents" placeholder="Share these extents as" act="Share" onName={keep} />
      )}
    </div>
  );
}

const ROWS = [
  ["x", 0],
  ["y", 1],
  ["z", 2],
] as const;

/** A box in numbers: from and to on each axis, and its turn. */
function BoxFields({
  shared,
  onSave,
}: {
  shared: SharedExtents;
  onSave: (change: { name?: string; box?: ExtentsBox }) => void;
}) {
  const { box } = shared;
  const set = (end: "low" | "high", k: number, value: number | null) =>
    value !== null &&
    onSave({ box: { ...box, [end]: box[end].map((v, i) => (i === k ? value : v)) } as ExtentsBox });
  return (
    <details className="text-xs">
      <summary className="cursor-pointer py-0.5">Box in numbers</summary>
      <div className="flex flex-col gap-1 py-1">
        <input
          aria-label="Name of the shared extents"
          className="input input-xs"
          defaultValue={shared.name}
          maxLength={60}
          onBlur={(event) => {
            const name = event.target.value.trim();
            if (name && name !== shared.name) onSave({ name });
          }}
        />
        {ROWS.map(([axis, k]) => (
          <div key={axis} className="flex flex-col gap-0.5">
            <LengthField label={`${axis} from`} value={box.low[k] ?? 0} onChange={(v) => set("low", k, v)} />
            <LengthField label={`${axis} to`} value={box.high[k] ?? 0} onChange={(v) => set("high", k, v)} />
          </div>
        ))}
        <NumberField
          label="Turn, degrees"
          value={box.turn ?? 0}
          onChange={(turn) => onSave({ box: { ...box, turn } })}
        />
      </div>
    </details>
  );
}
