import { SunMedium } from "lucide-react";
import { useState } from "react";
import type { Drawing, Sun } from "../../api/client";
import { client, unwrap } from "../../api/client";
import { putDrawing, queryClient, report } from "../../api/queries";
import { Check } from "../../fields/Choice";

/** Copies of a drawing at several hours of the day that its sun is of. */
export function SunStudy({ drawing, sun }: { drawing: Drawing; sun: Sun }) {
  const [typed, setTyped] = useState("9, 12, 15, 18");
  const [onSheet, setOnSheet] = useState(false);
  const hours = typed.split(/[\s,;]+/).filter(Boolean);
  const numbers = hours.map(hourOf);
  const wrong = numbers.length === 0 || numbers.some((n) => n === null);
  const make = async () => {
    try {
      const made = await unwrap<Drawing[]>(
        client.POST("/api/drawings/{id}/sun-study", {
          params: { path: { id: drawing.id } },
          body: { sun, hours: numbers.filter((n) => n !== null), in_a_row: onSheet },
        }),
      );
      for (const one of made) putDrawing(queryClient, drawing.project_id, one);
    } catch (error) {
      report(error);
    }
  };
  return (
    <div className="flex flex-col gap-1 border-t border-base-300 pt-1">
      <label className="flex items-center gap-2">
        <span className="w-20 shrink-0 opacity-80">Hours</span>
        <input
          className={`input input-xs figures min-w-0 flex-1 ${wrong ? "input-error" : ""}`}
          aria-label="Hours of the study"
          aria-invalid={wrong}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      </label>
      {wrong && (
        <span role="alert" className="text-error">
          Hours of a day, like 9, 12:30, 18
        </span>
      )}
      <Check label="In a row on a new sheet" checked={onSheet} onChange={setOnSheet} />
      <button type="button" className="btn btn-xs justify-start" disabled={wrong} onClick={make}>
        <SunMedium size={13} /> A drawing for each hour
      </button>
    </div>
  );
}

/** 9, 9.5 or 9:30 as hours; null for what is none. */
function hourOf(text: string): number | null {
  const said = /^(\d{1,2})(?::([0-5]\d)|\.(\d+))?$/.exec(text);
  if (!said) return null;
  const hour = Number(said[1]) + Number(said[2] ?? 0) / 60 + Number(`0.${said[3] ?? 0}`);
  return hour < 24 ? hour : null;
}
