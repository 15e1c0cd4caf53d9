import { useState } from "react";
import type { OwnAccount } from "../api/client";
import {
  addProgram,
  beginSecond,
  changePassword,
  editMyself,
  endDevice,
  endSecond,
  newRecovery,
  proposeSecond,
  useOwnAccount,
} from "../api/people";
import { TextField } from "../fields/TextField";
import { Waiting } from "../fields/Waiting";
import { DoorField } from "./Door";
import { day, deviceWords } from "./people-words";
import { Told } from "./Told";

/** One's own account: name, password, one-time codes, where one is signed in, tokens for programs. */
export function AccountPage() {
  const { data: account, error } = useOwnAccount();
  if (!account) return <Waiting error={error} />;
  return (
    <main className="mx-auto flex h-full w-full max-w-3xl flex-col gap-6 overflow-y-auto p-8">
      <h1 className="text-xl font-semibold">Your account</h1>
      <section aria-label="Name" className="flex flex-col gap-2 text-sm">
        <p>{account.mail}</p>
        <TextField label="Name" value={account.name} most={80} onEnter={(name) => editMyself({ name })} />
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={account.mails}
            onChange={(event) => editMyself({ mails: event.target.checked })}
          />
          Notices come by mail, too, where this installation sends any
        </label>
      </section>
      <Password />
      <Codes account={account} />
      <Devices account={account} />
    </main>
  );
}

function Password() {
  const [before, setBefore] = useState("");
  const [after, setAfter] = useState("");
  const [done, setDone] = useState(false);
  const change = async () => {
    if (!(await changePassword(before, after))) return;
    setBefore("");
    setAfter("");
    setDone(true);
  };
  return (
    <form
      aria-label="Password"
      className="flex max-w-sm flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void change();
      }}
    >
      <h2 className="font-semibold">Password</h2>
      <DoorField
        label="Password until now"
        type="password"
        complete="current-password"
        value={before}
        onChange={setBefore}
      />
      <DoorField
        label="New password"
        type="password"
        complete="new-password"
        value={after}
        onChange={setAfter}
        hint="12 characters or more; several words do well. You are signed out on all other devices."
      />
      <button type="submit" className="btn btn-sm self-start" disabled={!before || !after}>
        Change the password
      </button>
      {done && <p role="status">Changed.</p>}
    </form>
  );
}

type Proposed = { secret: string; uri: string; picture: string };

function Codes({ account }: { account: OwnAccount }) {
  const [proposed, setProposed] = useState<Proposed | null>(null);
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  const [codes, setCodes] = useState<string[]>([]);
  const begin = async () => {
    if (!proposed) return;
    const made = await beginSecond(proposed.secret, code, password);
    if (!made) return;
    setCodes(made.codes);
    setProposed(null);
    setCode("");
    setPassword("");
  };
  const ask = (
    <DoorField
      label="Your password"
      type="password"
      complete="current-password"
      value={password}
      onChange={setPassword}
    />
  );
  return (
    <section aria-label="One-time codes" className="flex max-w-md flex-col gap-2">
      <h2 className="font-semibold">One-time codes</h2>
      {account.wants_codes && (
        <p role="status" className="text-sm">
          You see to this installation; here that is possible only once a code is asked for when you sign in.
        </p>
      )}
      {codes.length > 0 && (
        <Told
          label="Keep these recovery codes where you find them without this device: each lets you in once. They are shown only now."
          text={codes.join("\n")}
        />
      )}
      {account.second ? (
        <>
          <p className="text-sm">
            A code is asked for when you sign in. {account.codes_left} of your recovery codes are left.
          </p>
          {ask}
          <span className="flex gap-2">
            <button
              type="button"
              className="btn btn-sm"
              disabled={!password}
              onClick={async () => setCodes((await newRecovery(password))?.codes ?? [])}
            >
              New recovery codes
            </button>
            <button
              type="button"
              className="btn btn-sm"
              disabled={!password}
              onClick={() => endSecond(password)}
            >
              Ask for no code any more
            </button>
          </span>
        </>
      ) : proposed ? (
        <>
          <p className="text-sm">Let your application for codes read this, then type its code.</p>
          <img
            alt="The same as a pattern to be read by a camera"
            className="size-44 bg-white p-1"
            src={`data:image/svg+xml,${encodeURIComponent(proposed.picture)}`}
          />
          <p className="figures text-xs break-all">{proposed.secret}</p>
          <DoorField label="Its code" complete="one-time-code" most={6} value={code} onChange={setCode} />
          {ask}
          <button
            type="button"
            className="btn btn-primary btn-sm self-start"
            disabled={!code || !password}
            onClick={begin}
          >
            Ask for a code from now on
          </button>
        </>
      ) : (
        <>
          <p className="text-sm">
            Beside the password, a code from an application on your telephone may be asked for.
          </p>
          <button
            type="button"
            className="btn btn-sm self-start"
            onClick={async () => setProposed(await proposeSecond())}
          >
            Set up one-time codes
          </button>
        </>
      )}
    </section>
  );
}

function Devices({ account }: { account: OwnAccount }) {
  const [name, setName] = useState("");
  const [token, setToken] = useState("");
  const make = async () => {
    const made = await addProgram(name, 90);
    if (!made) return;
    setToken(made.token);
    setName("");
  };
  return (
    <section aria-label="Signed in" className="flex flex-col gap-2">
      <h2 className="font-semibold">Where you are signed in</h2>
      <ul aria-label="Devices" className="flex flex-col gap-1 text-sm">
        {account.devices.map((one) => (
          <li key={one.id} className="flex items-center gap-2">
            <span>
              {one.program ? `Program: ${one.device}` : deviceWords(one.device)}
              {one.here ? " (here)" : `, last heard of ${day(one.seen_at)}`}
              {one.address && ` from ${one.address}`}
            </span>
            {!one.here && (
              <button
                type="button"
                className="btn btn-xs"
                aria-label={`End: ${one.program ? one.device : deviceWords(one.device)}`}
                onClick={() => endDevice(one.id)}
              >
                End
              </button>
            )}
          </li>
        ))}
      </ul>
      <form
        aria-label="Token for a program"
        className="flex items-end gap-2 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          void make();
        }}
      >
        <label className="flex flex-col gap-1">
          A token for a program that sends files for you
          <input
            required
            className="input input-sm w-72"
            placeholder="what it is for"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm">
          Make a token
        </button>
      </form>
      {token && (
        <Told label="Give it to the program as EDGE_SLICE_TOKEN. It is shown only now." text={token} />
      )}
    </section>
  );
}
