import { useState } from "react";
import { useNavigate } from "react-router";
import type { Guide, Sheet } from "../../api/client";
import { useSheetActs } from "../../api/sheet-acts";
import { useTables } from "../../api/tables";
import type { Camera, Spot } from "../../drawing/camera";
import { PaperBox, useDrag } from "./PlacementBox";
import { SideGrips } from "./PlacementGrips";
import { type Snap, snapped, tableOf } from "./sheet-snaps";
import { boxOf, moved, sized, type TablePlace } from "./table-places";

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
  const box = boxOf(draft ?? place);
  const open = () => table && navigate(`/projects/${project}/tables/${table.id}`);
  return (
    <g>
      <PaperBox
        camera={camera}
        box={box}
        label={`Table ${table?.spec.name ?? "that is gone"}`}
        chosen={chosen || draft !== null}
        drag={drag}
        onPress={onChoose}
        onOpen={open}
        onNudge={(by) => onChange(moved(place, by))}
        onRemove={onRemove}
      />
      {chosen && (
        <SideGrips
          camera={camera}
          box={box}
          label={(side) => `Move the ${side} of the table`}
          onMove={(side, by) => setDraft(sized(place, side, by))}
          onDrop={(side, by) => {
            setDraft(null);
            if (by) onChange(sized(place, side, by));
          }}
        />
      )}
    </g>
  );
}
