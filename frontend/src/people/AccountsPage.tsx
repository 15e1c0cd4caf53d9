import { useState } from "react";
import type { Account } from "../api/client";
import {
  editAccount,
  inviteToInstallation,
  type Made,
  takeBackFromInstallation,
  useAccounts,
  useInvited,
  wayBack,
} from "../api/people";
import { Waiting } from "../fields/Waiting";
import { AuditList } from "./AuditList";
import { Inviting, ToldOfWay } from "./Inviting";
import { day } from "./people-words";

const RIGHTS = [
  ["may_make", "makes projects"],
  ["may_keep", "keeps the office's rules"],
  ["runs", "sees to the installation"],
] as const;

/** The accounts of the installation, who is invited to it, and what was done. */
export function AccountsPage() {
  const { data: accounts, error } = useAccounts();
  const { data: invited = [] } = useInvited();
  const [back, setBack] = useState<(Made & { mail: string }) | null>(null);
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
                if (made) setBack({ ...made, mail: one.mail });
              }}
            />
          ))}
        </tbody>
      </table>
      {back && <ToldOfWay made={back} does="By it they choose another password." lasts="for a day" />}
      <Inviting
        roles={false}
        invited={invited}
        onInvite={inviteToInstallation}
        onTakeBack={takeBackFromInstallation}
      />
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
