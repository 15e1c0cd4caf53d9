import { useRef, useState } from "react";
import { toast } from "sonner";
import { compareFile, type Table, type TableContent, type TakenBack, typeCells } from "../api/tables";
import { FileField } from "../fields/FileField";

/** A table as a file, and own columns in again from one, after a look at what would change. */
export function TableFiles({ table, content }: { table: Table; content: TableContent | undefined }) {
  const field = useRef<HTMLInputElement>(null);
  const [back, setBack] = useState<TakenBack | null>(null);
  const own = table.spec.columns.some((c) => c.shows === "own");
  const head = (key: string) => content?.spec.columns.find((c) => c.key === key)?.head ?? key;
  const look = async (file: File) => {
    const found = await compareFile(table, file);
    if (found && found.changes.length === 0 && found.notes.length === 0)
      toast("The file says what the table says.");
    else if (found) setBack(found);
  };
  const take = async () => {
    if (
      back &&
      (await typeCells(
        table,
        back.changes.map(({ column, target, after }) => ({ column, target, text: after })),
      ))
    )
      setBack(null);
  };
  return (
    <>
      <a className="btn btn-xs" href={`/api/tables/${table.id}/file/csv`} download>
        CSV
      </a>
      <a className="btn btn-xs" href={`/api/tables/${table.id}/file/xlsx`} download>
        XLSX
      </a>
      {own && (
        <button type="button" className="btn btn-xs" onClick={() => field.current?.click()}>
          Take back XLSX …
        </button>
      )}
      <FileField field={field} label="XLSX file of this table" accept=".xlsx" onFile={look} />
      {back && (
        <dialog
          open
          className="fixed inset-0 z-50 m-0 grid h-full max-h-none w-full max-w-none place-items-center bg-black/40"
          aria-label="What the file says otherwise"
        >
          <div className="flex max-h-[80vh] w-11/12 max-w-2xl flex-col gap-2 rounded bg-base-100 p-6 text-base-content shadow-xl">
            <h3 className="font-semibold">
              {back.changes.length === 1 ? "One cell is" : `${back.changes.length} cells are`} otherwise in
              the file
            </h3>
            {back.notes.map((note) => (
              <p key={note} className="text-xs">
                {note}
              </p>
            ))}
            <div className="min-h-0 flex-1 overflow-y-auto">
              <table className="w-full text-sm">
                <thead className="text-left text-xs">
                  <tr>
                    <th>Row</th>
                    <th>Column</th>
                    <th>Here</th>
                    <th>In the file</th>
                  </tr>
                </thead>
                <tbody>
                  {back.changes.map((c) => (
                    <tr key={`${c.target} ${c.column}`} className="border-t border-base-300">
                      <td>{c.row}</td>
                      <td>{head(c.column)}</td>
                      <td className="line-through opacity-75">{c.before}</td>
                      <td>{c.after || <i>empty</i>}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            <div className="flex justify-end gap-1">
              <button type="button" className="btn btn-sm" onClick={() => setBack(null)}>
                Leave the table as it is
              </button>
              <button
                type="button"
                className="btn btn-primary btn-sm"
                disabled={back.changes.length === 0}
                onClick={take}
              >
                Take over {back.changes.length}
              </button>
            </div>
          </div>
        </dialog>
      )}
    </>
  );
}
