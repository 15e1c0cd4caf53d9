import { create } from "zustand";

/** Names of the imperial scales, as the server gives them. */
export const useImperial = create<{ names: Map<number, string> }>(() => ({ names: new Map() }));

/** 1:50, or 5:1 for drawings larger than what they show; the imperial scales by name. */
export const scaleText = (scale: number) => useImperial.getState().names.get(scale) ?? ratio(scale);

const ratio = (scale: number) => (scale >= 1 ? `1:${scale}` : `${Number((1 / scale).toPrecision(4))}:1`);
