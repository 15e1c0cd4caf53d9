import type { Element } from "../api/client";
import { useLengths } from "../fields/lengths";

/** What the model says of an element. */
export function ElementFacts({ element }: { element: Element }) {
  const { say } = useLengths();
  const rows: [string, string][] = [
    ["Kind", element.kind],
    ["Part", element.part ?? ""],
    ["Also in", (element.also ?? []).join("; ")],
    ["Storey", element.storey],
    ["Material", element.material],
    ["Build-up", element.build_up],
    ["Thickness", element.thickness ? say(element.thickness) : ""],
    [
      "Layer",
      element.layer ? `${element.layer}: ${element.layer_thickness ? say(element.layer_thickness) : ""}` : "",
    ],
    ["Behind cut", element.depth ? say(element.depth) : ""],
  ];
  return (
    <>
      <p className="pr-5 font-semibold">{element.name || element.kind}</p>
      <dl className="text-xs">
        {rows
          .filter(([, value]) => value !== "")
          .map(([name, value]) => (
            <div key={name} className="flex gap-2">
              <dt className="w-20 shrink-0 opacity-80">{name}</dt>
              <dd className="min-w-0 break-words">{value}</dd>
            </div>
          ))}
      </dl>
      {element.properties.length > 0 && (
        <details className="text-xs">
          <summary className="cursor-pointer py-0.5">Properties in the file</summary>
          <dl className="py-1">
            {element.properties.map(([name, value]) => (
              <div key={name} className="flex gap-2">
                <dt className="w-32 shrink-0 break-words opacity-80">{name}</dt>
                <dd className="min-w-0 break-words">{value}</dd>
              </div>
            ))}
          </dl>
        </details>
      )}
    </>
  );
}
