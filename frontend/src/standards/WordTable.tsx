import { useTried, useWordLanguages } from "../api/words";
import { Choice } from "../fields/Choice";
import type { EditProps } from "./HatchEditor";
import { ALL, isOf, OWN, type Strength, withoutLanguage, withWords, wordsIn } from "./words";

const NAMES: Record<string, string> = {
  en: "English",
  de: "German",
  fr: "French",
  es: "Spanish",
  it: "Italian",
  nl: "Dutch",
  sv: "Swedish",
  no: "Norwegian",
  da: "Danish",
  fi: "Finnish",
};
const STRENGTHS: readonly (readonly [Strength, string])[] = [
  ["words", "Words"],
  ["weak_words", "Weak words"],
];

type WordTableProps = EditProps & { project: number; language: string; onLanguage: (code: string) => void };

/** The words by which classes of material are recognised, by language, tried on the model at once. */
export function WordTable(props: WordTableProps) {
  const { document, readOnly, onChange, project, language, onLanguage } = props;
  const { data: languages = {} } = useWordLanguages();
  const [its, ours] = [isOf(language, languages), isOf(OWN, languages)];
  const shown = (word: string) => its(word) || ours(word); // what is typed here does not vanish from here
  const named = [
    [ALL, "all languages"] as const,
    ...Object.keys(languages).map((code) => [code, NAMES[code] ?? code] as const),
    [OWN, "our own words"] as const,
  ];
  const put = (materials: typeof document.materials) => onChange({ ...document, materials });
  const any = Object.values(document.materials).some((m) => [...m.words, ...m.weak_words].some(its));
  return (
    <div className="flex h-full min-h-0">
      <section aria-label="Words by class" className="min-w-0 flex-1 overflow-auto p-3">
        <div className="flex items-center gap-3 pb-2">
          <span className="w-64 shrink-0">
            <Choice label="Words in" value={language} options={named} onChange={onLanguage} />
          </span>
          {!readOnly && language !== ALL && any && (
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              onClick={() => put(withoutLanguage(document.materials, its))}
            >
              Leave them all out
            </button>
          )}
          <p className="text-xs opacity-85">
            With commas. Weak words count where no other does: they say more of a form than of a substance.
          </p>
        </div>
        <table className="w-full text-xs">
          <thead>
            <tr className="text-left">
              <th className="w-36">Class</th>
              {STRENGTHS.map(([key, label]) => (
                <th key={key} className={key === "words" ? "" : "w-1/3"}>
                  {label}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Object.entries(document.materials).map(([key, rule]) => (
              <tr key={key} className="border-t border-base-300 align-top">
                <th scope="row" className="py-1 pr-2 text-left font-semibold">
                  {key}
                </th>
                {STRENGTHS.map(([strength, label]) => {
                  const own = rule[strength].filter(shown);
                  return (
                    <td key={strength} className="py-1 pr-2">
                      <textarea
                        key={own.join()}
                        className="textarea textarea-xs field-sizing-content min-h-7 w-full"
                        aria-label={`${label} for ${key}`}
                        readOnly={readOnly}
                        defaultValue={own.join(", ")}
                        onBlur={(event) => {
                          const typed = wordsIn(event.target.value);
                          if (typed.join() !== own.join())
                            put(withWords(document.materials, { key, strength, shown }, typed));
                        }}
                      />
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <TriedOnModel project={project} document={document} />
    </div>
  );
}

/** What the materials of the project's model are by these words, those first of which none says it. */
function TriedOnModel({ project, document }: { project: number; document: EditProps["document"] }) {
  const { data: tried = [], error, isPending } = useTried(project, document);
  const unclear = tried.filter((m) => !m.clear).length;
  return (
    <section
      aria-label="Tried on the model"
      className="w-96 shrink-0 overflow-auto border-l border-base-300 p-3 text-xs"
    >
      <h3 className="pb-1 text-sm font-semibold">Tried on the model</h3>
      {error && <p role="alert">{error.message}</p>}
      <p className="pb-1 opacity-85">
        {isPending
          ? "Trying …"
          : unclear > 0
            ? `Of ${unclear} of ${tried.length} materials no word says what they are.`
            : `Words say what all ${tried.length} materials are.`}
      </p>
      <table className="w-full">
        <tbody>
          {tried.map((m) => (
            <tr key={m.name} className="border-t border-base-300 align-top">
              <td className="py-1 pr-2 wrap-anywhere">
                {m.name}
                {m.category && m.category !== m.name && (
                  <span className="block opacity-75">{m.category}</span>
                )}
              </td>
              <td className="w-44 py-1">
                <span className={m.clear ? "" : "font-semibold text-warning"}>
                  {m.clear ? "" : "! "}
                  {m.is_a}
                </span>
                {m.words.length > 0 && <span className="block opacity-75">by “{m.words.join("”, “")}”</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
