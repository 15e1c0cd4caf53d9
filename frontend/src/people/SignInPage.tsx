import { useState } from "react";
import { askWhoAnew, signIn, useSession } from "../api/people";
import { Door, DoorField } from "./Door";
import { whyNotIn } from "./people-words";
import { useAct } from "./use-act";

/** The way in: mail address, password, and a one-time code where the account asks for one. */
export function SignInPage() {
  const [mail, setMail] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [asked, setAsked] = useState(false);
  const { data: session } = useSession();
  const { busy, problem, run } = useAct();
  return (
    <Door
      title="Sign in"
      problem={problem || whyNotIn(window.location.search)}
      act="Sign in"
      busy={busy}
      onSubmit={() =>
        run(async () => {
          const { needs_code } = await signIn(mail, password, code);
          if (needs_code) setAsked(true);
          else await askWhoAnew();
        })
      }
    >
      {session?.office && (
        <a
          className="btn btn-sm self-start"
          href={`/sign-in/office?to=${encodeURIComponent(window.location.pathname)}`}
        >
          Sign in with {session.office}
        </a>
      )}
      <DoorField
        label="Mail address"
        type="email"
        complete="username"
        first
        value={mail}
        onChange={setMail}
      />
      <DoorField
        label="Password"
        type="password"
        complete="current-password"
        value={password}
        onChange={setPassword}
      />
      {asked && (
        <DoorField
          label="One-time code"
          complete="one-time-code"
          first
          most={20}
          value={code}
          onChange={setCode}
          hint="From your application for codes, or one of your recovery codes."
        />
      )}
      <p className="text-xs opacity-80">
        No account yet? Who owns your project, or sees to this installation, invites you. No password any
        more? Who sees to this installation lets you back in.
      </p>
    </Door>
  );
}
