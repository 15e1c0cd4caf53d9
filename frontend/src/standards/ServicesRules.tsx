import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { EditProps } from "./HatchEditor";
import { Row } from "./Row";
import { wordsIn } from "./words";

/** When a run of services is one line, and by which letters its system is known. */
export function ServicesRules({ document, readOnly, onChange }: EditProps) {
  const { services } = document;
  const [fresh, setFresh] = useState("");
  const letters = (changed: Record<string, string[]>) =>
    onChange({ ...document, services: { ...services, letters: changed } });
  const taken = fresh.trim() in services.letters;
  return (
    <section className="flex w-96 flex-col gap-1.5">
      <h3 className="font-semibold">Services</h3>
      <Row
        label="One line where narrower than"
        unit="mm"
        most={50}
        value={services.single_under}
        onChange={(single_under) => onChange({ ...document, services: { ...services, single_under } })}
      />
      <table aria-label="Letters of systems" className="text-xs">
        <thead>
          <tr className="text-left">
            <th className="w-12">On lines</th>
            <th>of systems that have in their name, or are for</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {Object.entries(services.letters).map(([key, words]) => (
            <tr key={key}>
              <td className="font-semibold">{key}</td>
              <td>
                <input
                  className="input input-xs w-full"
                  aria-label={`Words for ${key}`}
                  key={words.join()}
                  defaultValue={words.join(", ")}
                  title={words.join(", ")}
                  onBlur={(event) => {
                    const said = wordsIn(event.target.value);
                    if (said.join() !== words.join()) letters({ ...services.letters, [key]: said });
                  }}
                />
              </td>
              <td>
                {!readOnly && (
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs btn-square"
                    aria-label={`Leave out ${key}`}
                    onClick={() => {
                      const { [key]: _gone, ...others } = services.letters;
                      letters(others);
                    }}
                  >
                    <Trash2 size={13} />
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {!readOnly && (
        <form
          className="flex items-center gap-1"
          onSubmit={(event) => {
            event.preventDefault();
            letters({ ...services.letters, [fresh.trim()]: [] });
            setFresh("");
          }}
        >
          <input
            className="input input-xs w-24"
            aria-label="Further letters"
            placeholder="Letters"
            maxLength={8}
            value={fresh}
            onChange={(event) => setFresh(event.target.value)}
          />
          <button type="submit" className="btn btn-ghost btn-xs" disabled={!fresh.trim() || taken}>
            <Plus size={13} /> {taken ? "there already" : "Add"}
          </button>
        </form>
      )}
    </section>
  );
}
