import type { ReactNode } from "react";
import { SIGNS_IN, useSession } from "../api/people";
import { Waiting } from "../fields/Waiting";
import { LinkedSheets } from "./LinkedSheets";
import { SignInPage } from "./SignInPage";

/** Lets in who has signed in; shows who came by a link what it leads to, and all others the way in. */
export function Gate({ children }: { children: ReactNode }) {
  return SIGNS_IN ? <Closed>{children}</Closed> : children;
}

function Closed({ children }: { children: ReactNode }) {
  const { data, error } = useSession();
  if (!data) return <Waiting error={error} />;
  if (data.signed_in) return children;
  return data.link ? <LinkedSheets link={data.link} /> : <SignInPage />;
}
