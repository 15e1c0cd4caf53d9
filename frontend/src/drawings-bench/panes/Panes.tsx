import { type DragEvent, type ReactNode, useMemo } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { WithMenu } from "../../shell/ContextMenu";
import { useDesk } from "../desk/desk";
import { type AlignedPair, alignedPair, type Pane } from "./align";

type PanesProps = {
  source: ReactNode;
  result: ReactNode;
  /** The building in three dimensions, where it is wanted. */
  model: ReactNode;
  alone: "source" | "result";
  stacked: boolean;
  /** A drawing of the lineage was dropped on a pane. */
  onDropped: (pane: "source" | "result", drawing: number) => void;
};

/** A pane on which drawings can be dropped. */
function DropPane({ children, onDrop }: { children: ReactNode; onDrop: (drawing: number) => void }) {
  const isDrawing = (event: DragEvent) => event.dataTransfer.types.includes("application/x-drawing");
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the keyboard has Enter and B in the lineage for it
    <div
      className="h-full min-h-0"
      onDragOver={(event) => isDrawing(event) && event.preventDefault()}
      onDrop={(event) => {
        const id = Number(event.dataTransfer.getData("application/x-drawing"));
        if (!id) return;
        event.preventDefault();
        onDrop(id);
      }}
    >
      <WithMenu group="Drawing">{children}</WithMenu>
    </div>
  );
}

/** One pane or two, as the desk is arranged; the model stands beside the one, or shares the place of the source. */
export function Panes({ alone, stacked, onDropped, model, ...shown }: PanesProps) {
  const source = <DropPane onDrop={(id) => onDropped("source", id)}>{shown.source}</DropPane>;
  const result = <DropPane onDrop={(id) => onDropped("result", id)}>{shown.result}</DropPane>;
  const { panes, swapped } = useDesk();
  if (panes === 1) {
    const only = alone === "result" && !swapped ? result : source;
    return model ? <Split first={only} second={model} /> : <div className="min-h-0 flex-1">{only}</div>;
  }
  const sources = model ? <Split first={source} second={model} stacked={!stacked} /> : source;
  const [first, second] = swapped ? [result, sources] : [sources, result];
  return <Split first={first} second={second} stacked={stacked} />;
}

/** Two panes with an edge between them that can be dragged. */
function Split({
  first,
  second,
  stacked = false,
}: {
  first: ReactNode;
  second: ReactNode;
  stacked?: boolean;
}) {
  const way = stacked ? "vertical" : "horizontal";
  return (
    <Group key={way} orientation={way} className="h-full min-h-0 flex-1">
      <Panel minSize="20%">{first}</Panel>
      <Separator className={`${stacked ? "h-1" : "w-1"} bg-base-300 hover:bg-secondary focus:bg-secondary`} />
      <Panel minSize="20%">{second}</Panel>
    </Group>
  );
}

/** The same object as long as nothing of it changes, so that panes on it keep what they look at. */
export function useAlignedPair(
  source: Pane | undefined,
  result: Pane | undefined,
  stacked: boolean,
  on: boolean,
) {
  const pair = on ? alignedPair(source, result, stacked) : null;
  const text = JSON.stringify(pair);
  return useMemo(() => JSON.parse(text) as AlignedPair | null, [text]);
}
