import { X } from "lucide-react";
import { useState } from "react";
import type { Account } from "../api/client";
import {
  editAccount,
  inviteToInstallation,
  takeBackFromInstallation,
  useAccounts,
  useInvited,
  wayBack,
} from "../api/people";
import { Waiting } from "../fields/Waiting";
import { AuditList } from "./AuditList";
import { addressOf, day } from "./people-words";
import { Told } from "./Told";

const RIGHTS = [
  ["may_make", "makes projects"],
  ["may_keep", "keeps the office's rules"],
  ["runs", "sees to the installation"],
] as const;

/** The accounts of the installation, who is invited to it, and what was done. */
export function AccountsPage() {
  const { data: accounts, error } = useAccounts();
  const [back, setBack] = useState<{ mail: string; token: string } | null>(null);
  if (!accounts) return <Waiting error={error} />;
  return (
    <main className="mx-auto flex h-full w-full max-w-5xl flex-col gap-6 overflow-y-auto p-8">
      <h1 className="text-xl font-semibold">Accounts</h1>
      <table className="w-full text-sm" aria-label="Accounts">
        <thead>
          <tr className="border-b border-base-content/40 text-left text-xs">
            {["Name", "Mail address", "May", "Last seen", ""].map((head) => (
              <th key={head} scope="col" className="py-1 pr-3 font-semibold">
                {head || <span className="sr-only">Close or open</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {accounts.map((one) => (
            <Line
              key={one.id}
              account={one}
              onWayBack={async () => {
                const made = await wayBack(one.id);
                if (made) setBack({ mail: one.mail, token: made.token });
              }}
            />
          ))}
        </tbody>
      </table>
      {back && (
        <Told
          label={`Send this address to ${back.mail}. It lets them choose another password, once, for a day, and is shown only now.`}
          text={addressOf("invitation", back.token)}
        />
      )}
      <Inviting />
      <AuditList project={null} />
    </main>
  );
}

function Line({ account, onWayBack }: { account: Account; onWayBack: () => void }) {
  return (
    <tr className={`border-b border-base-300 ${account.closed ? "opacity-75" : ""}`}>
      <td className="py-1 pr-3">
        {account.name}
        {account.closed && " (closed)"}
      </td>
      <td className="pr-3">
        {account.mail}
        {account.second && <span className="block text-xs opacity-80">with one-time codes</span>}
      </td>
      <td className="pr-3">
        {RIGHTS.map(([key, words]) => (
          <label key={key} className="flex items-center gap-1.5 text-xs">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              aria-label={`${account.name} ${words}`}
              checked={account[key]}
              onChange={(event) => editAccount(account.id, { [key]: event.target.checked })}
            />
            {words}
          </label>
        ))}
      </td>
      <td className="figures pr-3 text-xs">{account.last_seen ? day(account.last_seen) : ""}</td>
      <td className="text-right">
        {!account.closed && (
          <button
            type="button"
            className="btn btn-ghost btn-xs"
            aria-label={`A way back in for ${account.name}`}
            title="Where the password or the one-time codes are lost"
            onClick={onWayBack}
          >
            A way back in
          </button>
        )}
        <button
          type="button"
          className="btn btn-xs"
          aria-label={`${account.closed ? "Open again" : "Close"}: ${account.name}`}
          onClick={() => editAccount(account.id, { closed: !account.closed })}
        >
          {account.closed ? "Open again" : "Close"}
        </button>
      </td>
    </tr>
  );
}

function Inviting() {
  const { data: invited = [] } = useInvited();
  const [mail, setMail] = useState("");
  const [made, setMade] = useState<{ mail: string; token: string } | null>(null);
  const send = async () => {
    const done = await inviteToInstallation(mail);
    if (!done) return;
    setMade({ mail, token: done.token });
    setMail("");
  };
  return (
    <section aria-label="Invite" className="flex flex-col gap-2 text-sm">
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void send();
        }}
      >
        <label className="flex flex-col gap-1">
          Invite somebody to the installation
          <input
            type="email"
            required
            className="input input-sm w-72"
            placeholder="mail address"
            maxLength={200}
            value={mail}
            onChange={(event) => setMail(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm">
          Invite
        </button>
      </form>
      {made && (
        <Told
          label={`Send this address to ${made.mail}. It works once, for seven days, and is shown only now.`}
          text={addressOf("invitation", made.token)}
        />
      )}
      <ul aria-label="Invited">
        {invited.map((one) => (
          <li key={one.id} className="flex items-center gap-2">
            {one.mail} is invited until {day(one.ends_at)}
            <button
              type="button"
              className="btn btn-ghost btn-xs"
              aria-label={`Take back: ${one.mail}`}
              onClick={() => takeBackFromInstallation(one.id)}
            >
              <X size={12} /> Take back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
