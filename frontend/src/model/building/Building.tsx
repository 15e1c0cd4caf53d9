import { useEffect, useLayoutEffect, useMemo } from "react";
import * as THREE from "three";
import "@react-three/fiber";
import type { Opening } from "../opening/opening";
import { type ClipUniforms, clipping, shapeOf } from "./clip-material";
import { type Left, leftOf } from "./opened-elements";
import type { SolidElement } from "./solid-form";
import type { LoadedPart } from "./use-solid";

/** How an element shows: not at all, as it is, or so that what lies behind it shows through. */
export type Shown = "no" | "yes" | "through";
export type ShownOf = (element: SolidElement, storey: string) => Shown;
export type ColourOf = (element: SolidElement, material: number) => string;

type Props = {
  part: LoadedPart;
  uniforms: ClipUniforms;
  opening: Opening;
  shown: ShownOf;
  colour: ColourOf;
  removed: "gone" | "ghost" | "outline";
  /** Triangles that are drawn while the view moves; all when it rests. */
  budget: number | null;
  edges: boolean;
  /** Elements that are lit (GlobalId). */
  lit: ReadonlySet<string>;
  /** A plane slides through it: nothing is sorted anew by what that leaves, all is asked. */
  sliding: boolean;
  /** Whether the sun shines: bodies throw shadows, and have them. */
  sunlit: boolean;
};

const SHADOW = { color: "#2b3440", opacity: 0.36 } as const;
const LIT = "#e0806a";
const INK = "#4a5751";
const LIGHT = new THREE.Vector3(-0.35, -0.65, 0.68).normalize();

/** What stands on one storey. What the opening does not touch is drawn without asking what is taken away. */
export function Building({ part, uniforms, opening, shown, colour, removed, budget, edges, ...more }: Props) {
  const { lit, sunlit, sliding } = more;
  const places = useMemo(() => new THREE.BufferAttribute(unrolled(part), 3), [part]);
  const ends = useMemo(() => new THREE.BufferAttribute(part.positions, 3), [part]);
  // only what is lit here paints it anew
  const here = useMemo(
    () =>
      part.elements
        .filter((e) => lit.has(e.guid))
        .map((e) => e.guid)
        .join(" "),
    [part, lit],
  );
  const colours = useMemo(
    () => new THREE.BufferAttribute(painted(part, colour, new Set(here.split(" "))), 3, true),
    [part, colour, here],
  );
  const sorted = sliding ? null : opening;
  const left = useMemo(
    () => (sorted ? leftOf(part, sorted) : part.elements.map(() => "crossed" as const)),
    [part, sorted],
  );
  const said = left.map((way) => way[0]).join("");
  const shape = shapeOf(opening);
  const materials = useMemo(() => materialsOf(uniforms, shape), [uniforms, shape]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is said is all of what is left
  const drawn = useMemo(() => {
    const take = (way: Shown, ...of: Left[]) =>
      part.elements.filter((e, k) => shown(e, part.storey) === way && of.includes(left[k] as Left));
    return {
      whole: geometryOf(part, places, ends, take("yes", "whole")),
      crossed: geometryOf(part, places, ends, take("yes", "crossed")),
      gone: geometryOf(part, places, ends, removed === "gone" ? [] : take("yes", "gone")),
      through: geometryOf(part, places, ends, take("through", "whole", "crossed")),
    };
  }, [part, places, ends, shown, said, removed]);
  useLayoutEffect(() => {
    for (const one of Object.values(drawn)) {
      one.faces.setAttribute("color", colours);
      one.faces.setDrawRange(0, budget === null ? Number.POSITIVE_INFINITY : budget * 3);
    }
  }, [drawn, colours, budget]);
  useEffect(
    () => () => {
      for (const one of Object.values(drawn)) {
        one.faces.dispose();
        one.edges.dispose();
      }
    },
    [drawn],
  );
  const placed = { position: part.low, scale: part.step, dispose: null } as const;
  const solid = [
    ["whole", drawn.whole, materials.plain, materials.line, materials.shadow],
    ["crossed", drawn.crossed, materials.cut, materials.cutLine, materials.cutShadow],
  ] as const;
  const away = [
    ["gone", drawn.gone, materials.ghost, materials.outline],
    ["crossed", drawn.crossed, materials.cutGhost, materials.cutOutline],
  ] as const;
  return (
    <group>
      {solid.map(([name, one, faces, line, shadow]) => (
        <group key={name}>
          <mesh {...placed} geometry={one.faces} material={faces} castShadow={sunlit} />
          {sunlit && edges && <mesh {...placed} geometry={one.faces} material={shadow} receiveShadow />}
          {edges && <lineSegments {...placed} geometry={one.edges} material={line} />}
        </group>
      ))}
      <mesh {...placed} geometry={drawn.through.faces} material={materials.through} />
      {removed !== "gone" &&
        away.map(([name, one, faces, line]) => (
          <group key={name}>
            {removed === "ghost" && <mesh {...placed} geometry={one.faces} material={faces} />}
            {edges && <lineSegments {...placed} geometry={one.edges} material={line} />}
          </group>
        ))}
    </group>
  );
}

function materialsOf(uniforms: ClipUniforms, shape: string) {
  const face = { vertexColors: true, side: THREE.DoubleSide, toneMapped: false } as const;
  const faint = { transparent: true, depthWrite: false } as const;
  const solid = (side: THREE.Side) =>
    new THREE.MeshBasicMaterial({
      ...face,
      side,
      polygonOffset: true,
      polygonOffsetFactor: 0.4,
      polygonOffsetUnits: 0.4,
    });
  const ghost = () => new THREE.MeshBasicMaterial({ ...face, ...faint, opacity: 0.1 });
  const outline = () => new THREE.LineBasicMaterial({ color: INK, ...faint, opacity: 0.25 });
  return {
    plain: solid(THREE.FrontSide), // nobody looks into what is whole
    cut: clipping(solid(THREE.DoubleSide), uniforms, shape, false),
    through: clipping(
      new THREE.MeshBasicMaterial({ ...face, ...faint, opacity: 0.18 }),
      uniforms,
      shape,
      false,
    ),
    ghost: ghost(),
    cutGhost: clipping(ghost(), uniforms, shape, true),
    shadow: level(new THREE.ShadowMaterial({ ...SHADOW, depthWrite: false })),
    cutShadow: level(
      clipping(
        new THREE.ShadowMaterial({ ...SHADOW, depthWrite: false, side: THREE.DoubleSide }),
        uniforms,
        shape,
        false,
      ),
    ),
    line: new THREE.LineBasicMaterial({ color: INK }),
    cutLine: clipping(new THREE.LineBasicMaterial({ color: INK }), uniforms, shape, false),
    outline: outline(),
    cutOutline: clipping(outline(), uniforms, shape, true),
  };
}

/** Lets a material that asks for normals do without: faces have none, as each has one shade. */
function level<M extends THREE.Material>(material: M): M {
  const before = material.onBeforeCompile.bind(material);
  const key = material.customProgramCacheKey.bind(material);
  material.onBeforeCompile = (shader, renderer) => {
    before(shader, renderer);
    shader.vertexShader = shader.vertexShader.replace(
      "#include <beginnormal_vertex>",
      "vec3 objectNormal = vec3(0.0, 0.0, 1.0);",
    );
  };
  material.customProgramCacheKey = () => `level ${key()}`;
  return material;
}

type Drawn = { faces: THREE.BufferGeometry; edges: THREE.BufferGeometry };

function geometryOf(
  part: LoadedPart,
  places: THREE.BufferAttribute,
  ends: THREE.BufferAttribute,
  elements: SolidElement[],
): Drawn {
  const make = (positions: THREE.BufferAttribute, index: Uint32Array) => {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", positions);
    geometry.setIndex(new THREE.BufferAttribute(index, 1));
    geometry.boundingSphere = new THREE.Sphere(new THREE.Vector3(32768, 32768, 32768), 60000);
    return geometry;
  };
  const corners = new Uint32Array(elements.reduce((sum, e) => sum + e.triangles[1], 0) * 3);
  const lines = new Uint32Array(elements.reduce((sum, e) => sum + e.edges[1], 0) * 2);
  let [at, to] = [0, 0];
  for (const { triangles, edges } of elements) {
    for (let i = 0; i < triangles[1] * 3; i++) corners[at++] = triangles[0] * 3 + i;
    lines.set(part.edges.subarray(edges[0] * 2, (edges[0] + edges[1]) * 2), to);
    to += edges[1] * 2;
  }
  return { faces: make(places, corners), edges: make(ends, lines) };
}

/** Each triangle with corners of its own, so that each has one shade. */
function unrolled(part: LoadedPart): Uint16Array {
  const found = new Uint16Array(part.triangles.length * 3);
  for (let i = 0; i < part.triangles.length; i++) {
    const at = (part.triangles[i] as number) * 3;
    found[i * 3] = part.positions[at] as number;
    found[i * 3 + 1] = part.positions[at + 1] as number;
    found[i * 3 + 2] = part.positions[at + 2] as number;
  }
  return found;
}

/** A colour for each corner: that of its element in a soft light. */
function painted(part: LoadedPart, colour: ColourOf, lit: ReadonlySet<string>): Uint8Array {
  const found = new Uint8Array(part.triangles.length * 3);
  const [a, b, c, base] = [new THREE.Vector3(), new THREE.Vector3(), new THREE.Vector3(), new THREE.Color()];
  const corner = (into: THREE.Vector3, i: number) => {
    const at = (part.triangles[i] as number) * 3;
    return into.set(
      (part.positions[at] as number) * part.step[0],
      (part.positions[at + 1] as number) * part.step[1],
      (part.positions[at + 2] as number) * part.step[2],
    );
  };
  for (const element of part.elements) {
    let t = element.triangles[0];
    for (const [material, count] of element.materials) {
      base.set(lit.has(element.guid) ? LIT : colour(element, material));
      for (const end = t + count; t < end; t++) {
        corner(a, t * 3);
        const normal = corner(b, t * 3 + 1)
          .sub(a)
          .cross(corner(c, t * 3 + 2).sub(a))
          .normalize();
        const shade = 0.74 + 0.2 * normal.dot(LIGHT) + 0.08 * normal.z;
        for (let i = t * 9; i < t * 9 + 9; i += 3) {
          found[i] = Math.min(255, base.r * 255 * shade);
          found[i + 1] = Math.min(255, base.g * 255 * shade);
          found[i + 2] = Math.min(255, base.b * 255 * shade);
        }
      }
    }
  }
  return found;
}
