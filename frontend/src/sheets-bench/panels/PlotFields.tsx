import type { PublicationNew } from "../../api/client";
import { useSettings } from "../../api/queries";
import { Check, Choice } from "../../fields/Choice";
import { NumberField } from "../../fields/NumberField";

export type Plot = NonNullable<PublicationNew["plot"]>;
export const AS_THEY_ARE: Plot = {
  paper: "",
  margin: 5,
  percent: null,
  colours: "as drawn",
  archival: false,
};

/** How sheets are printed: on which paper, how much reduced, in which inks. */
export function PlotFields({ plot, onChange }: { plot: Plot; onChange: (plot: Plot) => void }) {
  const { data: settings } = useSettings();
  const set = (part: Partial<Plot>) => onChange({ ...plot, ...part });
  return (
    <fieldset className="flex flex-col gap-1.5" aria-label="Printed">
      <Choice
        label="Paper"
        value={plot.paper ?? ""}
        options={[["", "each its own"], ...(settings?.sheet_sizes ?? []).map((s) => [s, s] as const)]}
        onChange={(paper) => set({ paper: paper as Plot["paper"] })}
      />
      <Choice
        label="Reduced"
        value={plot.percent === null ? "true" : "typed"}
        options={[
          ["true", "to the largest true share"],
          ["typed", "to per cent"],
        ]}
        onChange={(by) => set({ percent: by === "true" ? null : 50 })}
      />
      {plot.percent !== null && (
        <NumberField
          label="Per cent"
          unit="%"
          value={plot.percent}
          least={1}
          most={100}
          onChange={(percent) => set({ percent })}
        />
      )}
      <NumberField
        label="Margins"
        unit="mm"
        value={plot.margin}
        least={0}
        most={40}
        onChange={(margin) => set({ margin })}
      />
      <Choice
        label="Inks"
        value={plot.colours}
        options={[
          ["as drawn", "as drawn"],
          ["grey", "greys"],
          ["black", "black alone"],
        ]}
        onChange={(colours) => set({ colours })}
      />
      <Check
        label="To be kept for long (PDF/A-2b)"
        checked={plot.archival}
        onChange={(archival) => set({ archival })}
      />
      <p className="text-xs opacity-85">
        True shares are 100, 50, 25, 20, 10 and 5 %. What is reduced says so beside its frame, with the scales
        that it then has; letters are smaller, too.
      </p>
    </fieldset>
  );
}
