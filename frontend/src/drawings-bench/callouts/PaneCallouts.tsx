import { useMemo } from "react";
import { moveBubble } from "../../api/callouts";
import type { Callout, CalloutMark, Drawing, Region, Settings } from "../../api/client";
import { report } from "../../api/queries";
import type { Camera } from "../../drawing/camera";
import type { View } from "../../drawing/screen-form";
import { CalloutLayer } from "./Callouts";
import { RegionGrips } from "./RegionGrips";

/** What a pane needs to show callouts of its drawing. */
export type CalloutProps = {
  callouts: CalloutMark[];
  /** The chosen callout, if it was called out from the pane's drawing; its region as it is being dragged. */
  called: (Drawing & { callout: Callout }) | undefined;
  calledRegion: Region | undefined;
  onRegion: (region: Region) => void;
  onRegionDrop: () => void;
  onBubble: (drawing: number, bubble: [number, number]) => void;
};

type Props = CalloutProps & {
  /** Whether a tool in hand takes the pointer, and they stand back. */
  passive: boolean;
  faint: boolean;
  camera: Camera;
  scale: number;
  view: View;
  titles: Map<number, string>;
  settings: Settings;
  onChoose: (drawing: number) => void;
  onBeside: (drawing: number) => void;
};

/** The callouts of a pane's drawing: their markers, and the grips of the chosen one's region. */
export function PaneCallouts({ passive, faint, camera, scale, view, called, calledRegion, ...props }: Props) {
  // they are placed on the paper of the broken drawing
  const flat = useMemo(() => (camera.folds ? { ...camera, folds: undefined } : camera), [camera]);
  const bubble = async (mark: CalloutMark, at: [number, number]) => {
    const [kind, id] = mark.source.split(":");
    if (kind === "drawing") props.onBubble(Number(id), at);
    else
      try {
        await moveBubble(Number(id), mark.version, { ...mark.style, bubble: at });
      } catch (error) {
        report(error);
      }
  };
  return (
    <>
      <CalloutLayer
        camera={flat}
        placed={view.callouts}
        marks={props.callouts}
        titles={props.titles}
        lit={called?.id}
        passive={passive}
        faint={faint}
        form={props.settings.marker}
        onChoose={props.onChoose}
        onBeside={props.onBeside}
        onBubble={bubble}
      />
      {calledRegion && !passive && (
        <RegionGrips
          camera={camera}
          scale={scale}
          region={calledRegion}
          onChange={props.onRegion}
          onDrop={props.onRegionDrop}
        />
      )}
    </>
  );
}
