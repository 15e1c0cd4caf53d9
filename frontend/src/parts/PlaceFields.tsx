import { useState } from "react";
import type { PartPlace, PlacePicture } from "../api/client";
import { NumberField } from "../fields/NumberField";
import { Levels, PlaceView } from "./PlaceView";
import { apart, type XY } from "./place-picture";

type Points = [Spot, Spot, Spot, Spot];
type Spot = [number, number, number];
type Props = {
  place: PartPlace;
  picture: PlacePicture | undefined;
  onPlace: (place: PartPlace) => void;
  onPoints: (points: Points) => void;
};

const ASKED = [
  "Click a point of this file.",
  "Now the same point of the building.",
  "Click a second point of this file.",
  "Now the same point of the building.",
] as const;
const NAMES = ["a", "a", "b", "b"] as const;

/** Where a part lies: a picture of it in the building, by numbers, or by two points. */
export function PlaceFields({ place, picture, onPlace, onPoints }: Props) {
  const [points, setPoints] = useState<XY[] | null>(null);
  if (!picture) return <p className="opacity-80">Looking where it lies …</p>;
  const far = apart(
    picture.rest.map((r) => r.ring as XY[]),
    picture.part.map((r) => r.ring as XY[]),
  );
  const add = (which: 0 | 1) => (at: XY) => {
    if (!points || points.length % 2 !== which) return;
    const all = [...points, at];
    if (all.length < 4) {
      setPoints(all);
      return;
    }
    const [a, toA, b, toB] = all.map(([x, y]): Spot => [x, y, 0]) as Points;
    setPoints(null);
    onPoints([a, b, toA, toB]);
  };
  const chosen = (which: 0 | 1) =>
    (points ?? []).flatMap((at, k) => (k % 2 === which ? [[NAMES[k] ?? "", at] as const] : []));
  return (
    <div className="flex flex-col gap-1.5">
      {points === null ? (
        !far && <PlaceView picture={picture} shown="both" label="The part in the building" />
      ) : (
        <p role="status" className="font-semibold">
          {ASKED[points.length]}
        </p>
      )}
      {(far || points !== null) && (
        <>
          <PlaceView
            picture={picture}
            shown="part"
            label="This file alone"
            chosen={chosen(0)}
            onChoose={points ? add(0) : undefined}
          />
          <PlaceView
            picture={picture}
            shown="rest"
            label="The building alone"
            chosen={chosen(1)}
            onChoose={points ? add(1) : undefined}
          />
        </>
      )}
      <button
        type="button"
        className="btn btn-xs self-start"
        onClick={() => setPoints(points === null ? [] : null)}
      >
        {points === null ? "Place by two points" : "Leave it as it is"}
      </button>
      <div className="grid grid-cols-4 gap-x-2">
        {(
          [
            ["x", "East", "m"],
            ["y", "North", "m"],
            ["z", "Up", "m"],
            ["turn", "Turned", "°"],
          ] as const
        ).map(([name, label, unit]) => (
          <div key={name}>
            <span className="text-[11px] opacity-80" aria-hidden="true">
              {label}, {unit}
            </span>
            <NumberField
              label={label}
              value={place[name] ?? 0}
              wide={false}
              onChange={(value) => onPlace({ ...place, [name]: value })}
            />
          </div>
        ))}
      </div>
      <Levels picture={picture} />
    </div>
  );
}
