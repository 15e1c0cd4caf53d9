import { useCallback, useEffect, useRef, useState } from "react";
import { readCamera, type SharedAxis, sharedCamera, useAligned } from "./aligned";
import { type Camera, centredAgain, fit, heldStill, type Place } from "./camera";
import type { Frame } from "./screen-form";

const cameras = new Map<string, Camera>();
const untouched = new Set<string>(); // canvases that show all of their paper, as at first
const seenAt = new Map<string, { place: Place; mount: object }>(); // where a canvas was when it was looked at last
const middles = new Map<string, number>();

/** Makes a canvas that is opened next look at something. */
export function setCamera(key: string, camera: Camera) {
  cameras.set(key, camera);
  seenAt.delete(key);
  untouched.delete(key);
}

/** What a canvas looks at, kept while the window is open: by itself, or on an axis shared with another. */
export function useCamera(
  key: string,
  page: Frame | undefined,
  size: Place,
  shared: SharedAxis | undefined,
): [Camera | null, (next: Camera) => void] {
  const [alone, setAlone] = useState<Camera | null>(cameras.get(key) ?? null);
  const aligned = useAligned();
  const ownKey = shared ? `${shared.pair} ${key}` : "";
  const across = shared?.axis === "y" ? size.width : size.height;
  const [own, setOwn] = useState<number | undefined>(middles.get(ownKey));

  const keep = useCallback(
    (next: Camera) => {
      if (shared) {
        const said = readCamera(shared, next, across);
        middles.set(ownKey, said.own);
        setOwn(said.own);
        useAligned.getState().look(shared.pair, said.start, said.density);
      } else {
        cameras.set(key, next);
        untouched.delete(key);
        setAlone(next);
      }
    },
    [key, ownKey, across, shared],
  );

  useEffect(() => setAlone(cameras.get(key) ?? null), [key]);
  useEffect(() => setOwn(middles.get(ownKey)), [ownKey]);

  const begun = shared !== undefined && aligned.pair === shared.pair;
  const turn = shared?.turn ?? 0;
  const known = shared ? (shared.leads ? begun : own !== undefined) : cameras.has(key);
  useEffect(() => {
    if (!page || size.width === 0 || known) return;
    const start = fit(page, size.width, size.height, turn);
    if (!shared || shared.leads) {
      keep(start);
      if (!shared) untouched.add(key);
    } else {
      const middle = shared.middle ?? readCamera(shared, start, across).own;
      middles.set(ownKey, middle);
      setOwn(middle);
    }
  }, [page, size, known, turn, shared, across, key, ownKey, keep]);

  const mount = useRef({});
  useEffect(() => {
    if (shared || !page || size.width === 0) return;
    const [before, now] = [seenAt.get(key), cameras.get(key)];
    seenAt.set(key, { place: size, mount: mount.current });
    if (!before || !now) return;
    const from = before.place;
    if (from.width === size.width && from.height === size.height) return;
    if (untouched.has(key)) {
      keep(fit(page, size.width, size.height));
      untouched.add(key);
    } else keep((before.mount === mount.current ? heldStill : centredAgain)(now, from, size));
  }, [size, key, page, shared, keep]);

  const last = useRef<Camera | null>(null);
  if (!shared) return [alone, keep];
  if (begun && own !== undefined) last.current = sharedCamera(shared, aligned, own, across);
  return [begun && own !== undefined ? last.current : null, keep];
}
