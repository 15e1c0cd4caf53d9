import type { RootState } from "@react-three/fiber";
import { toast } from "sonner";
import * as THREE from "three";
import { fetched } from "../../api/client";
import { report } from "../../api/queries";
import { handOver } from "../../shell/hand-over";
import type { Showing } from "../view/use-showing";
import { ENDLESS, type Opening, scaled } from "./opening";

/** The model as it is opened, or a slice of it, really cut, as a file. */
export async function saveBodies(
  project: number,
  form: "glb" | "stl",
  opening: Opening,
  thickness: number | null,
  storey: string,
  { hiding, standard }: Showing,
) {
  const endless = (at: number) => (Math.abs(at) >= ENDLESS ? null : at);
  const cuts = opening.map((cut) =>
    cut.map(({ origin, u, w, left, right }) => ({
      point: origin,
      normal: scaled(w, -1),
      along: u,
      start: endless(left),
      end: endless(right),
    })),
  );
  try {
    const response = await fetched(`/api/projects/${project}/bodies`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ cuts, thickness, form, storeys: storey ? [storey] : [], standard, ...hiding }),
    });
    const said = response.headers.get("Content-Disposition")?.split("UTF-8''")[1] ?? `model.${form}`;
    handOver(await response.blob(), decodeURIComponent(said));
  } catch (error) {
    report(error);
  }
}

/** The picture as it is seen, of a chosen size, on no ground. */
export function savePicture(
  { gl, scene, camera, invalidate }: RootState,
  name: string,
  wide: number,
  high: number,
) {
  const most = gl.capabilities.maxTextureSize;
  if (wide > most || high > most) {
    toast(`This machine makes pictures of ${most} pixels at most.`);
    return;
  }
  const own = (camera as THREE.PerspectiveCamera).clone();
  own.aspect = wide / high;
  own.updateProjectionMatrix();
  const target = new THREE.WebGLRenderTarget(wide, high, { samples: 4 });
  gl.setRenderTarget(target);
  gl.setClearColor(0x000000, 0);
  gl.clear();
  gl.render(scene, own);
  const pixels = new Uint8ClampedArray(wide * high * 4);
  gl.readRenderTargetPixels(target, 0, 0, wide, high, pixels);
  gl.setRenderTarget(null);
  target.dispose();
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [wide, high];
  const upright = new Uint8ClampedArray(pixels.length);
  const row = wide * 4;
  for (let y = 0; y < high; y++) upright.set(pixels.subarray(y * row, (y + 1) * row), (high - 1 - y) * row);
  canvas.getContext("2d")?.putImageData(new ImageData(upright, wide, high), 0, 0);
  canvas.toBlob((blob) => blob && handOver(blob, `${name}.png`), "image/png");
  invalidate();
}
