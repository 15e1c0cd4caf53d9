import { X } from "lucide-react";
import { useState } from "react";
import type { Invited, Role } from "../api/client";
import type { Made } from "../api/people";
import { addressOf, day, ROLE_NAMES, ROLES } from "./people-words";
import { Told } from "./Told";

type Props = {
  /** Whether a role is chosen: invitations to the installation have none. */
  roles: boolean;
  invited: Invited[];
  onInvite: (mail: string, role: Role) => Promise<Made | null>;
  onTakeBack: (id: number) => void;
};

/** Inviting somebody, to a project or to the installation, and who is invited. */
export function Inviting({ roles, invited, onInvite, onTakeBack }: Props) {
  const [mail, setMail] = useState("");
  const [role, setRole] = useState<Role>("reviewer");
  const [made, setMade] = useState<(Made & { mail: string }) | null>(null);
  const send = async () => {
    const done = await onInvite(mail, role);
    if (!done) return;
    setMade(done.token ? { ...done, mail } : null);
    setMail("");
  };
  return (
    <section aria-label="Invite" className="flex flex-col gap-2">
      <h2 className="font-semibold">{roles ? "Invite somebody" : "Invite somebody to the installation"}</h2>
      <form
        className="flex flex-wrap items-end gap-2 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <label className="flex flex-col gap-1">
          Mail address
          <input
            type="email"
            required
            className="input input-sm w-72"
            value={mail}
            maxLength={200}
            onChange={(event) => setMail(event.target.value)}
          />
        </label>
        {roles && (
          <label className="flex flex-col gap-1">
            Role
            <select
              className="select select-sm w-36"
              value={role}
              onChange={(event) => setRole(event.target.value as Role)}
            >
              {ROLE_NAMES.map(([value, name]) => (
                <option key={value} value={value}>
                  {name}
                </option>
              ))}
            </select>
          </label>
        )}
        <button type="submit" className="btn btn-primary btn-sm">
          Invite
        </button>
        {roles && <span className="text-xs opacity-80">may {ROLES[role].may}</span>}
      </form>
      {made && <ToldOfWay made={made} does="" lasts="for seven days" />}
      <ul aria-label="Invited" className="flex flex-col gap-1 text-sm">
        {invited.map((one) => (
          <li key={one.id} className="flex items-center gap-2">
            <span>
              {one.mail} is invited{one.role && ` as ${ROLES[one.role].name.toLowerCase()}`} until{" "}
              {day(one.ends_at)}
              {one.by && `, by ${one.by}`}
            </span>
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Take back: ${one.mail}`}
              onClick={() => onTakeBack(one.id)}
            >
              <X size={12} /> Take back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** An address that lets somebody in, to be sent to them unless a letter with it is on its way. */
export function ToldOfWay({
  made,
  does,
  lasts,
}: {
  made: Made & { mail: string };
  does: string;
  lasts: string;
}) {
  const sent = made.mailed
    ? `A letter with this address is on its way to ${made.mail}.`
    : `Send this address to ${made.mail}.`;
  return (
    <Told
      label={`${sent} It works once, ${lasts}, and is shown only now.${does && ` ${does}`}`}
      text={addressOf("invitation", made.token)}
    />
  );
}
