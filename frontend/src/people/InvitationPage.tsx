import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { acceptInvitation, askWhoAnew, lookAtInvitation } from "../api/people";
import { Waiting } from "../fields/Waiting";
import { Door, DoorField } from "./Door";
import { inAddress, ROLES } from "./people-words";
import { useAct } from "./use-act";

/** Where an invitation leads: to an account of one's own. What it names stands behind the # of the address, which is
 * never sent. */
export function InvitationPage() {
  const token = inAddress();
  const navigate = useNavigate();
  const { data, error } = useQuery({
    queryKey: ["invitation", token],
    retry: false,
    queryFn: () => lookAtInvitation(token),
  });
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const { busy, problem, run } = useAct();
  if (error || !data) return <Waiting error={error} />;
  return (
    <Door
      title={
        data.back
          ? "Back into your account"
          : data.project
            ? `Come into “${data.project}”`
            : "Make your account"
      }
      problem={problem}
      act={data.back ? "Take this password" : "Make my account"}
      busy={busy}
      onSubmit={() =>
        run(async () => {
          await acceptInvitation(token, name, password);
          await askWhoAnew();
          navigate("/", { replace: true });
        })
      }
    >
      <p className="text-sm">
        {data.by || "Somebody"} {data.back ? "lets you back in" : "invites you"}
        {data.role ? `: you may ${ROLES[data.role].may}` : ""}.
      </p>
      <DoorField
        label="Mail address"
        type="email"
        complete="username"
        value={data.mail}
        onChange={() => undefined}
      />
      <DoorField label="Your name" complete="name" most={80} first value={name} onChange={setName} />
      <DoorField
        label="Password"
        type="password"
        complete="new-password"
        value={password}
        onChange={setPassword}
        hint="12 characters or more; several words do well."
      />
    </Door>
  );
}
