import { Trash2 } from "lucide-react";
import type { Appearance } from "../api/client";
import { AppearanceFields } from "../drawing/AppearanceFields";
import { NameForm } from "../fields/NameForm";
import type { EditProps } from "./HatchEditor";

const KEPT = "lines"; // what drawings begin with

/** The appearances of a standard: how seen surfaces show in drawings that choose them. */
export function AppearanceTable({ document, readOnly, onChange }: EditProps) {
  const { appearances } = document;
  const put = (name: string, appearance: Appearance) =>
    onChange({ ...document, appearances: { ...appearances, [name]: appearance } });
  const remove = (name: string) => {
    const { [name]: _gone, ...kept } = appearances;
    onChange({ ...document, appearances: kept });
  };
  const add = (name: string) => {
    const like = appearances.presentation ?? appearances[KEPT];
    if (like && !(name in appearances)) put(name, like);
  };
  return (
    <fieldset
      disabled={readOnly}
      className="flex h-full flex-wrap content-start gap-x-10 gap-y-4 overflow-auto p-3"
    >
      {Object.entries(appearances).map(([name, appearance]) => (
        <section key={name} aria-label={name} className="flex w-72 flex-col gap-1.5">
          <h3 className="flex h-6 items-center font-semibold">
            {name}
            <span className="flex-1" />
            {name !== KEPT && (
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Delete ${name}`}
                onClick={() => remove(name)}
              >
                <Trash2 size={12} />
              </button>
            )}
          </h3>
          <AppearanceFields
            appearance={appearance}
            onChange={(part) => put(name, { ...appearance, ...part })}
          />
        </section>
      ))}
      <div className="h-fit w-72">
        <NameForm
          label="Name of a new appearance"
          placeholder="Another appearance"
          act="Add"
          onName={(name) => add(name.toLowerCase())}
        />
      </div>
    </fieldset>
  );
}
