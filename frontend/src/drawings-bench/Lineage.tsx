import { Building2, Diamond, LayoutGrid, Lightbulb, PanelTop, Scissors, Trash2, View } from "lucide-react";
import { memo, useRef, useState } from "react";
import type { Drawing, Project, Settings } from "../api/client";
import { scaleText } from "../fields/scale";
import { NewDrawings } from "./NewDrawings";

const GLYPHS: Record<Drawing["kind"], typeof Scissors> = {
  plan: LayoutGrid,
  "ceiling plan": Lightbulb,
  section: Scissors,
  "perspective section": View,
  elevation: Building2,
  "interior elevation": PanelTop,
  "free section": Diamond,
};

type Props = {
  project: Project;
  settings: Settings;
  drawings: Drawing[];
  chosen: number | undefined;
  onChoose: (drawing: Drawing) => void;
  onDelete: (drawing: Drawing) => void;
};

/** The tree of what was cut from what; rows can be dragged onto a sheet of the shelf. */
export function Lineage({ project, settings, drawings, chosen, onChoose, onDelete }: Props) {
  // rows that are not drawn anew must not act on what was shown when they were
  const acts = useRef({ onChoose, onDelete });
  acts.current = { onChoose, onDelete };
  const [choose] = useState(() => (d: Drawing) => acts.current.onChoose(d));
  const [drop] = useState(() => (d: Drawing) => acts.current.onDelete(d));
  const known = new Set(drawings.map((d) => d.id));
  const below = new Map<number, Drawing[]>();
  for (const d of drawings) {
    if (d.parent_id === null) continue;
    const others = below.get(d.parent_id);
    if (others) others.push(d);
    else below.set(d.parent_id, [d]);
  }
  const roots = drawings.filter((d) => d.parent_id === null || !known.has(d.parent_id));
  return (
    <nav aria-label="Lineage" className="flex h-full flex-col bg-base-200">
      <div className="flex h-8 items-center justify-between border-b border-base-300 pr-1 pl-2">
        <h2 className="font-semibold">Lineage</h2>
        <NewDrawings project={project} settings={settings} onMade={onChoose} />
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: the pattern for trees of the ARIA guide */}
      <ul role="tree" aria-label="Drawings" className="flex-1 overflow-y-auto py-1">
        {roots.map((d) => (
          <Branch
            key={d.id}
            drawing={d}
            depth={0}
            chosen={chosen}
            onChoose={choose}
            onDelete={drop}
            below={below}
          />
        ))}
      </ul>
    </nav>
  );
}

type BranchProps = {
  drawing: Drawing;
  depth: number;
  below: Map<number, Drawing[]>;
  chosen: number | undefined;
  onChoose: (drawing: Drawing) => void;
  onDelete: (drawing: Drawing) => void;
};

/** A row is drawn anew only when its drawing or its being chosen changes; rows with others below them always. */
const Branch = memo(BranchRow, (a, b) => {
  const leaf = !a.below.has(a.drawing.id) && !b.below.has(b.drawing.id);
  const lit = (p: BranchProps) => p.chosen === p.drawing.id;
  return leaf && a.drawing === b.drawing && a.depth === b.depth && lit(a) === lit(b);
});

function BranchRow({ drawing, depth, below, ...props }: BranchProps) {
  const children = below.get(drawing.id) ?? [];
  const isChosen = drawing.id === props.chosen;
  const Glyph = GLYPHS[drawing.kind];
  const badge = drawing.placement;
  return (
    <li
      role="treeitem"
      aria-selected={isChosen}
      aria-expanded={children.length > 0 ? true : undefined}
      tabIndex={-1}
      className="[contain-intrinsic-height:auto_26px] [content-visibility:auto]"
    >
      <div
        className={`group relative flex items-center pr-1.5 ${isChosen ? "bg-base-300 font-semibold" : "hover:bg-base-300/60"}`}
        style={{ paddingLeft: 6 + depth * 14 }}
      >
        <button
          type="button"
          draggable
          onDragStart={(event) => {
            event.dataTransfer.setData("application/x-drawing", String(drawing.id));
            event.dataTransfer.effectAllowed = "link";
          }}
          className="flex min-w-0 flex-1 cursor-pointer items-center gap-1.5 py-1 text-left"
          onClick={() => props.onChoose(drawing)}
          title={drawing.title}
        >
          <Glyph
            size={13}
            className={`shrink-0 ${drawing.cut.kind === "section" ? "text-primary" : "opacity-85"}`}
          />
          <span className="min-w-0 flex-1 truncate">{drawing.title}</span>
          <span className="figures text-[11px] opacity-85">{scaleText(drawing.style.scale)}</span>
          {badge ? (
            <span
              className="figures rounded-sm bg-secondary px-1 text-[10px] text-secondary-content"
              title={`Drawing ${badge.number} on sheet ${badge.sheet_number}`}
            >
              {badge.sheet_number}
            </span>
          ) : (
            <span className="size-2.5 rounded-full border border-current opacity-50" title="Not on a sheet" />
          )}
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-xs btn-square absolute right-0 bg-base-300 opacity-0 group-hover:opacity-100 focus:opacity-100"
          aria-label={`Delete ${drawing.title}`}
          title="Delete"
          onClick={() => props.onDelete(drawing)}
        >
          <Trash2 size={12} />
        </button>
      </div>
      {children.length > 0 && (
        // biome-ignore lint/a11y/useSemanticElements: a group of a tree
        <ul role="group">
          {children.map((d) => (
            <Branch key={d.id} drawing={d} depth={depth + 1} {...props} below={below} />
          ))}
        </ul>
      )}
    </li>
  );
}
