import { useVirtualizer } from "@tanstack/react-virtual";
import {
  Box,
  BrickWall,
  Building2,
  ChevronDown,
  ChevronRight,
  Diamond,
  Hand,
  LayoutGrid,
  Lightbulb,
  PanelTop,
  ScanSearch,
  Scissors,
  SquareDashed,
  Trash2,
  View,
  ZoomIn,
} from "lucide-react";
import { type KeyboardEvent, memo, useMemo, useRef, useState } from "react";
import type { Drawing, Output, Project, Settings } from "../../api/client";
import { useOutputs } from "../../api/queries";
import { scaleText } from "../../fields/scale";
import { type MenuItem, WithMenu } from "../../shell/ContextMenu";
import { DrawingName } from "./DrawingName";
import { NewDrawings } from "./NewDrawings";

const GLYPHS: Record<Drawing["kind"], typeof Scissors> = {
  plan: LayoutGrid,
  "ceiling plan": Lightbulb,
  section: Scissors,
  "wall section": BrickWall,
  "perspective section": View,
  elevation: Building2,
  "interior elevation": PanelTop,
  "free section": Diamond,
  "opened view": Box,
  "enlarged plan": ZoomIn,
  detail: ScanSearch,
  "blank detail": SquareDashed,
};
const ROW = 26; // pixels

type Props = {
  project: Project;
  settings: Settings;
  drawings: Drawing[];
  chosen: number | undefined;
  onChoose: (drawing: Drawing) => void;
  /** Show a drawing in the other pane, beside the one that is chosen. */
  onBeside: (drawing: Drawing) => void;
  onRename: (drawing: Drawing, name: string) => void;
  onDelete: (drawing: Drawing) => void;
  onDeleteMany: (drawings: number[]) => void;
};
type Row = { drawing: Drawing; depth: number; below: number; open: boolean };

/** The tree of what was cut from what; rows can be dragged onto a sheet of the shelf. Only rows in view are drawn. */
export function Lineage({ project, settings, drawings, chosen, ...acts }: Props) {
  const outputs = useOutputs("drawings");
  const [closed, setClosed] = useState<ReadonlySet<number>>(new Set());
  const [also, setAlso] = useState<ReadonlySet<number>>(new Set());
  const [naming, setNaming] = useState<number>();
  const [active, setActive] = useState<number>();
  const list = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => rowsOf(drawings, closed), [drawings, closed]);
  const shown = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const at = rows.findIndex((row) => row.drawing.id === (active ?? chosen));
  const row = rows[at];

  const chooseAlso = (drawing: Drawing, range: boolean) => {
    const from = rows.findIndex((r) => r.drawing.id === (active ?? chosen));
    const to = rows.findIndex((r) => r.drawing.id === drawing.id);
    const between = rows.slice(Math.min(from, to), Math.max(from, to) + 1).map((r) => r.drawing.id);
    setAlso((old) => {
      if (range) return new Set([...old, ...between]);
      const next = new Set(old.size === 0 && chosen !== undefined ? [chosen] : old);
      if (!next.delete(drawing.id)) next.add(drawing.id);
      return next;
    });
  };
  const several = [...also].filter((id) => drawings.some((d) => d.id === id));

  const fold = (id: number, close: boolean) =>
    setClosed((old) => {
      const next = new Set(old);
      if (close) next.add(id);
      else next.delete(id);
      return next;
    });
  const goTo = (index: number) => {
    const next = rows[Math.max(0, Math.min(rows.length - 1, index))];
    if (!next) return;
    setActive(next.drawing.id);
    shown.scrollToIndex(rows.indexOf(next));
  };
  const act = (key: string): boolean => {
    if (key === "ArrowDown") goTo(at + 1);
    else if (key === "ArrowUp") goTo(at - 1);
    else if (key === "Home") goTo(0);
    else if (key === "End") goTo(rows.length - 1);
    else if (!row) return false;
    else if (key === "Enter") acts.onChoose(row.drawing);
    else if (key === "b") acts.onBeside(row.drawing);
    else if (key === "F2") setNaming(row.drawing.id);
    else if (key === "Delete") several.length > 1 ? acts.onDeleteMany(several) : acts.onDelete(row.drawing);
    else if (key === " ") chooseAlso(row.drawing, false);
    else if (key === "Escape" && also.size > 0) setAlso(new Set());
    else if (key === "ArrowRight" && row.below > 0) row.open ? goTo(at + 1) : fold(row.drawing.id, false);
    else if (key === "ArrowLeft" && row.below > 0 && row.open) fold(row.drawing.id, true);
    else if (key === "ArrowLeft") goTo(rows.findIndex((r) => r.drawing.id === row.drawing.parent_id));
    else return false;
    return true;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target instanceof HTMLInputElement || event.ctrlKey || event.altKey) return;
    if (!act(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <nav aria-label="Lineage" className="flex h-full flex-col bg-base-200">
      <div className="flex h-8 shrink-0 items-center justify-between border-b border-base-300 pr-1 pl-2">
        <h2 className="font-semibold">Lineage</h2>
        <NewDrawings project={project} settings={settings} onMade={acts.onChoose} />
      </div>
      <div
        ref={list}
        role="tree"
        aria-label="Drawings"
        aria-multiselectable
        aria-activedescendant={row && `drawing-${row.drawing.id}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto py-1"
        onKeyDown={onKeyDown}
        onBlur={() => setActive(undefined)}
      >
        <div className="relative" style={{ height: shown.getTotalSize() }}>
          {shown.getVirtualItems().map(({ index, start }) => {
            const item = rows[index] as Row;
            const { id } = item.drawing;
            return (
              <div
                key={id}
                id={`drawing-${id}`}
                role="treeitem"
                aria-level={item.depth + 1}
                aria-selected={id === chosen || also.has(id)}
                aria-expanded={item.below > 0 ? item.open : undefined}
                tabIndex={-1}
                className={`absolute inset-x-0 ${active === id ? "outline-2 -outline-offset-2 outline-secondary" : ""}`}
                style={{ top: start, height: ROW }}
              >
                <WithMenu
                  items={
                    several.length > 1 && also.has(id)
                      ? menuOfMany(several, acts, () => setAlso(new Set()))
                      : menuOf(item.drawing, acts, setNaming, outputs)
                  }
                >
                  <TreeRow
                    row={item}
                    chosen={id === chosen}
                    also={also.has(id)}
                    onAlso={chooseAlso}
                    onAlone={() => setAlso(new Set())}
                    naming={id === naming}
                    onFold={fold}
                    onName={setNaming}
                    {...acts}
                  />
                </WithMenu>
              </div>
            );
          })}
        </div>
      </div>
    </nav>
  );
}

type Acts = Pick<Props, "onChoose" | "onBeside" | "onRename" | "onDelete" | "onDeleteMany">;

/** What can be done with a row. */
function menuOf(drawing: Drawing, acts: Acts, onName: (id: number) => void, outputs: Output[]): MenuItem[] {
  return [
    { name: "Open", keys: "enter", run: () => acts.onChoose(drawing) },
    { name: "Show beside the open drawing", keys: "b", run: () => acts.onBeside(drawing) },
    { name: "Rename", keys: "F2", run: () => onName(drawing.id) },
    { name: "Delete", keys: "delete", run: () => acts.onDelete(drawing) },
    ...outputs.map(({ form, name }) => ({
      name: `Export as ${name}`,
      run: () => window.location.assign(`/api/drawings/${drawing.id}/export.${form}`),
    })),
  ];
}

/** What can be done with several drawings. */
function menuOfMany(chosen: number[], acts: Acts, letGo: () => void): MenuItem[] {
  return [
    { name: `Delete these ${chosen.length} drawings`, keys: "delete", run: () => acts.onDeleteMany(chosen) },
    { name: "Let them go", keys: "escape", run: letGo },
  ];
}

/** The rows of the tree from top to bottom, without those below a closed one. */
function rowsOf(drawings: Drawing[], closed: ReadonlySet<number>): Row[] {
  const known = new Set(drawings.map((d) => d.id));
  const below = new Map<number | null, Drawing[]>();
  for (const d of drawings) {
    const parent = d.parent_id !== null && known.has(d.parent_id) ? d.parent_id : null;
    below.set(parent, [...(below.get(parent) ?? []), d]);
  }
  const rows: Row[] = [];
  const add = (parent: number | null, depth: number) => {
    for (const drawing of below.get(parent) ?? []) {
      const open = !closed.has(drawing.id);
      rows.push({ drawing, depth, below: below.get(drawing.id)?.length ?? 0, open });
      if (open) add(drawing.id, depth + 1);
    }
  };
  add(null, 0);
  return rows;
}

type RowProps = Acts & {
  row: Row;
  chosen: boolean;
  /** Whether it is one of several that something is done with. */
  also: boolean;
  onAlso: (drawing: Drawing, range: boolean) => void;
  onAlone: () => void;
  naming: boolean;
  onFold: (id: number, close: boolean) => void;
  onName: (id: number | undefined) => void;
};

function TreeRow({ row, chosen, also, naming, onFold, onName, ...acts }: RowProps) {
  const { onAlso, onAlone, onChoose, onBeside, onRename, onDelete } = acts;
  const { drawing, depth, open } = row;
  const Glyph = GLYPHS[drawing.kind];
  const Fold = open ? ChevronDown : ChevronRight;
  return (
    <div
      className={`group relative flex h-full items-center pr-1.5 ${also ? "bg-secondary/20" : chosen ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
      style={{ paddingLeft: depth * 12 }}
    >
      <button
        type="button"
        tabIndex={-1}
        className={`w-4 shrink-0 cursor-pointer opacity-70 ${row.below === 0 ? "invisible" : ""}`}
        aria-label={`${open ? "Close" : "Open"} the drawings cut from ${drawing.title}`}
        onClick={() => onFold(drawing.id, open)}
      >
        <Fold size={12} />
      </button>
      {naming ? (
        <DrawingName
          drawing={drawing}
          onDone={(name) => {
            onName(undefined);
            if (name !== null && name !== drawing.name) onRename(drawing, name);
          }}
        />
      ) : (
        <button
          type="button"
          tabIndex={-1}
          draggable
          onDragStart={(event) => {
            event.dataTransfer.setData("application/x-drawing", String(drawing.id));
            event.dataTransfer.effectAllowed = "link";
          }}
          className="flex min-w-0 flex-1 cursor-pointer items-center gap-1.5 py-1 text-left"
          onClick={(event) => {
            if (event.ctrlKey || event.metaKey || event.shiftKey) {
              onAlso(drawing, event.shiftKey);
              return;
            }
            onAlone();
            (event.altKey ? onBeside : onChoose)(drawing);
          }}
          onDoubleClick={() => onName(drawing.id)}
          title={`${drawing.title} (double-click or F2 renames, Alt-click shows it beside, Ctrl-click chooses several)`}
        >
          <Glyph
            size={13}
            className={`shrink-0 ${drawing.cut.kind === "section" ? "text-primary" : "opacity-85"}`}
          />
          <span className="min-w-0 flex-1 truncate">{drawing.title}</span>
          {drawing.cut.held && (
            <Hand
              size={11}
              className="shrink-0 opacity-85"
              aria-label={`Held by revision ${drawing.cut.held.revision}`}
            />
          )}
          <span className="figures text-[11px] opacity-85">{scaleText(drawing.style.scale)}</span>
          <Badge placement={drawing.placement} />
        </button>
      )}
      <button
        type="button"
        tabIndex={-1}
        className="btn btn-ghost btn-xs btn-square absolute right-0 bg-base-300 opacity-0 group-hover:opacity-100 focus:opacity-100"
        aria-label={`Delete ${drawing.title}`}
        title="Delete"
        onClick={() => onDelete(drawing)}
      >
        <Trash2 size={12} />
      </button>
    </div>
  );
}

const Badge = memo(function Badge({ placement }: { placement: Drawing["placement"] }) {
  if (!placement)
    return <span className="size-2.5 rounded-full border border-current opacity-50" title="Not on a sheet" />;
  return (
    <span
      className="figures rounded-sm bg-secondary px-1 text-[10px] text-secondary-content"
      title={`Drawing ${placement.number} on sheet ${placement.sheet_number}`}
    >
      {placement.sheet_number}
    </span>
  );
});
