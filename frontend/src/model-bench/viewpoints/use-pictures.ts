import type { RootState } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { Viewpoint } from "../../api/client";
import { savePicture } from "../../model/opening/saving";

const [WIDE, HIGH] = [2400, 1500]; // pixels
const [LOOK_AGAIN, AT_MOST] = [60, 20_000]; // ms

/** Saves viewpoints as pictures, one after the other, each when all of it is there. */
export function usePictures(
  project: string,
  travel: (viewpoint: Viewpoint, atOnce: boolean) => void,
  three: { current: RootState | null },
  settled: boolean,
) {
  const now = useRef(settled);
  const there = useRef(true);
  now.current = settled;
  useEffect(() => {
    there.current = true;
    return () => {
      there.current = false;
    };
  }, []);
  return async (of: Viewpoint[]) => {
    for (const [k, one] of of.entries()) {
      travel(one, true);
      for (let waited = 0; waited < AT_MOST; waited += LOOK_AGAIN) {
        await new Promise((done) => setTimeout(done, LOOK_AGAIN));
        if (!there.current) return;
        if (waited > LOOK_AGAIN * 3 && now.current) break;
      }
      const number = of.length > 1 ? `${String(k + 1).padStart(2, "0")} ` : "";
      if (three.current) savePicture(three.current, `${project} ${number}${one.name}`, WIDE, HIGH);
    }
  };
}
