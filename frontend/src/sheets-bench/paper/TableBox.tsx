import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";
import type { Guide, Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { useTables } from "../../api/tables";
import { type Camera, type Spot, toScreen } from "../../drawing/camera";
import { nudgeOf, PaperBox, useDrag } from "./PlacementBox";
import { SideGrip } from "./PlacementGrips";
import { type Snap, snapped, tableOf } from "./sheet-snaps";
import { boxOf, moved, sized, type TablePlace, type TableSide } from "./table-places";

const SIDES: readonly TableSide[] = ["left", "base", "right", "top"];

type Props = {
  camera: Camera;
  sheet: Sheet;
  guides: Guide[];
  near: number;
  onSnaps: (snaps: Snap[]) => void;
};

/** The places of tables on a sheet: dragged, nudged by the arrow keys, made larger by their sides. */
export function TableBoxes({ camera, sheet, guides, near, onSnaps }: Props) {
  const { data: tables = [] } = useTables(sheet.project_id);
  const { edit } = useSheetActs(sheet.project_id);
  const [chosen, setChosen] = useState<number | null>(null);
  const places = sheet.fields.tables ?? [];
  const save = (next: TablePlace[]) =>
    edit.mutate({ sheet, change: { fields: { ...sheet.fields, tables: next } } });
  return places.map((place, k) => (
    <TableBox
      // biome-ignore lint/suspicious/noArrayIndexKey: a place is known by where it stands in the list
      key={k}
      camera={camera}
      place={place}
      table={tables.find((t) => t.key === place.table)}
      project={sheet.project_id}
      chosen={chosen === k}
      onChoose={() => setChosen(k)}
      bring={(by) => snapped(sheet, [tableOf(place, k)], by, guides, near)}
      onSnaps={onSnaps}
      onChange={(next) => save(places.map((p, n) => (n === k ? next : p)))}
      onRemove={() => {
        setChosen(null);
        save(places.filter((_, n) => n !== k));
      }}
    />
  ));
}

type BoxProps = {
  camera: Camera;
  place: TablePlace;
  table: { id: number; spec: { name: string } } | undefined;
  project: number;
  chosen: boolean;
  onChoose: () => void;
  bring: (by: Spot) => { by: Spot; snaps: Snap[] };
  onSnaps: (snaps: Snap[]) => void;
  onChange: (place: TablePlace) => void;
  onRemove: () => void;
};

function TableBox({ camera, place, table, project, chosen, ...props }: BoxProps) {
  const { onChoose, bring, onSnaps, onChange, onRemove } = props;
  const navigate = useNavigate();
  const [draft, setDraft] = useState<TablePlace | null>(null);
  const drag = useDrag(
    camera,
    (by) => {
      const found = bring(by);
      onSnaps(found.snaps);
      setDraft(moved(place, found.by));
    },
    (by) => {
      onSnaps([]);
      setDraft(null);
      if (by) onChange(moved(place, bring(by).by));
    },
  );
  const [left, base, right, top] = boxOf(draft ?? place);
  const a = toScreen(camera, { x: left, y: top });
  const c = toScreen(camera, { x: right, y: base });
  const open = () => table && navigate(`/projects/${project}/tables/${table.id}`);
  const keys = (event: KeyboardEvent) => {
    const way = nudgeOf(event);
    if (way) {
      event.preventDefault();
      onChange(moved(place, way));
    }
    if (event.key === "Enter") open();
    if (event.key === "Delete") onRemove();
  };
  const middle = { x: (a.x + c.x) / 2, y: (a.y + c.y) / 2 };
  const grips: Record<TableSide, Spot> = {
    left: { x: a.x, y: middle.y },
    right: { x: c.x, y: middle.y },
    base: { x: middle.x, y: c.y },
    top: { x: middle.x, y: a.y },
  };
  return (
    <g>
      <PaperBox
        camera={camera}
        box={[left, base, right, top]}
        label={`Table ${table?.spec.name ?? "that is gone"}`}
        chosen={chosen || draft !== null}
        drag={drag}
        onPress={onChoose}
        onOpen={open}
        onKeyDown={keys}
      />
      {chosen &&
        SIDES.map((side) => (
          <SideGrip
            key={side}
            camera={camera}
            at={grips[side]}
            upright={side === "left" || side === "right"}
            label={`Move the ${side === "left" || side === "right" ? `${side} side` : side} of the table`}
            onMove={(by) => setDraft(sized(place, side, by))}
            onDrop={(by) => {
              setDraft(null);
              if (by) onChange(sized(place, side, by));
            }}
          />
        ))}
    </g>
  );
}
