import { useState } from "react";
import type { ModelImport, PartChoice, PartProposal } from "../api/client";
import { choosePart, useImportPicture, useParts } from "../api/parts";
import { report } from "../api/queries";
import { Choice } from "../fields/Choice";
import { TextField } from "../fields/TextField";
import { DISCIPLINES, type Discipline } from "./disciplines";
import { PlaceFields } from "./PlaceFields";

const BY = {
  map: "its place on the map",
  coordinates: "its coordinates",
  grid: "its grid and storeys",
  storeys: "its storeys alone",
  hand: "hand",
} as const;

type Props = { project: number; row: ModelImport; part: PartProposal };

/** Which part of the model a file is that was read: told by itself, to be said otherwise; and where it lies. */
export function WhichPart({ project, row, part }: Props) {
  const { data: parts = [] } = useParts(project);
  const [busy, setBusy] = useState(false);
  const say = async (choice: PartChoice) => {
    setBusy(true);
    try {
      await choosePart(row.id, choice);
    } catch (error) {
      report(error);
    }
    setBusy(false);
  };
  const own = part.key === "";
  return (
    <fieldset aria-label="Which part it is" className="flex flex-col gap-1.5" disabled={busy}>
      <Choice
        label="It is"
        value={part.key}
        options={[
          ...parts.map((p) => [p.key, `a newer file of ${p.name}`] as const),
          ["", "another part of the building"] as const,
        ]}
        onChange={(key) => say({ key })}
      />
      <p className={part.sure ? "opacity-80" : "text-warning"} role={part.sure ? undefined : "alert"}>
        {!part.sure && <b>Is that so? </b>}
        {part.says}
      </p>
      {own && (
        <>
          <TextField label="Name" labelWidth="w-20" value={part.name} onEnter={(name) => say({ name })} />
          <Choice<Discipline>
            label="Discipline"
            value={part.discipline}
            options={DISCIPLINES}
            onChange={(discipline) => say({ discipline })}
          />
          <p
            className={part.placed_surely ? "opacity-80" : "text-warning"}
            role={part.placed_surely ? undefined : "alert"}
          >
            Placed by {BY[part.by]}. {part.placed_says}
          </p>
          <Placing row={row} part={part} onSay={say} />
        </>
      )}
      {busy && <p role="status">Looking what that changes …</p>}
    </fieldset>
  );
}

function Placing({
  row,
  part,
  onSay,
}: {
  row: ModelImport;
  part: PartProposal;
  onSay: (c: PartChoice) => void;
}) {
  const { data: picture } = useImportPicture(row.id, JSON.stringify(part.place));
  return (
    <PlaceFields
      place={part.place}
      picture={picture}
      onPlace={(place) => onSay({ place })}
      onPoints={(points) => onSay({ points })}
    />
  );
}
