import { useCallback, useEffect, useRef, useState } from "react";
import { readCamera, type SharedAxis, sharedCamera, useAligned } from "./aligned";
import { type Camera, fit, resized } from "./camera";
import type { Frame } from "./screen-form";

const cameras = new Map<string, Camera>();
const untouched = new Set<string>(); // canvases that show all of their paper, as at first
const seenAt = new Map<string, Size>(); // how large a canvas was when it was looked at last
const middles = new Map<string, number>();
type Size = { width: number; height: number };

/** Makes a canvas that is opened next look at something. */
export const setCamera = (key: string, camera: Camera) => cameras.set(key, camera);

/** What a canvas looks at, kept while the window is open: by itself, or on an axis shared with another. */
export function useCamera(
  key: string,
  page: Frame | undefined,
  size: Size,
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

  useEffect(() => {
    if (shared || !page || size.width === 0) return;
    const [from, now] = [seenAt.get(key), cameras.get(key)];
    seenAt.set(key, size);
    if (!from || !now || (from.width === size.width && from.height === size.height)) return;
    const whole = untouched.has(key);
    keep(whole ? fit(page, size.width, size.height) : resized(now, from, size));
    if (whole) untouched.add(key);
  }, [size, key, page, shared, keep]);

  const last = useRef<Camera | null>(null);
  if (!shared) return [alone, keep];
  if (begun && own !== undefined) last.current = sharedCamera(shared, aligned, own, across);
  return [begun && own !== undefined ? last.current : null, keep];
}
