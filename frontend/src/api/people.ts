import { useQuery } from "@tanstack/react-query";
import {
  type Account,
  type AccountEdit,
  type AuditEntry,
  client,
  type InvitationSeen,
  type Invited,
  type OwnAccount,
  type People,
  Refusal,
  type Role,
  type Session,
  type SharedLink,
  unwrap,
} from "./client";
import { done, keys, queryClient, report } from "./queries";

const SESSION = ["session"] as const;

/** Whether people sign in: the server says so in the page. */
export const SIGNS_IN = document.querySelector("meta[name=sign-in]") !== null;

/** Who has signed in; where nobody does, nobody is asked for. */
export const useSession = () =>
  useQuery({
    enabled: SIGNS_IN,
    queryKey: SESSION,
    queryFn: () => unwrap<Session>(client.GET("/api/session")),
    staleTime: Number.POSITIVE_INFINITY,
  });

/** What is known is of somebody else: all of it is asked for anew. */
export async function askWhoAnew() {
  queryClient.removeQueries({ predicate: (query) => query.queryKey[0] !== SESSION[0] });
  await queryClient.invalidateQueries({ queryKey: SESSION });
}

/** Where an answer says that one has not signed in any more, the page to sign in comes. */
queryClient.getQueryCache().subscribe(({ type, query }) => {
  const { error } = query.state;
  if (type !== "updated" || !(error instanceof Refusal) || error.status !== 401) return;
  if (queryClient.getQueryData<Session>(SESSION)?.signed_in) void askWhoAnew();
});

type SignedIn = { needs_code: boolean };

export const signIn = (mail: string, password: string, code: string) =>
  unwrap<SignedIn>(client.POST("/api/session", { body: { mail, password, code } }));

export async function signOut() {
  try {
    await unwrap(client.DELETE("/api/session"));
  } catch (error) {
    report(error);
  }
  await askWhoAnew();
}

export const lookAtInvitation = (token: string) =>
  unwrap<InvitationSeen>(client.POST("/api/invitation/look", { body: { token } }));

export const acceptInvitation = (token: string, name: string, password: string) =>
  unwrap(client.POST("/api/invitation/accept", { body: { token, name, password } }));

export const lookAtLink = (token: string) =>
  unwrap<{ worded: boolean }>(client.POST("/api/link/look", { body: { token } }));

export const openLink = (token: string, word: string) =>
  unwrap(client.POST("/api/link/open", { body: { token, word } }));

const ACCOUNT = ["account"] as const;

export const useOwnAccount = () =>
  useQuery({ queryKey: ACCOUNT, queryFn: () => unwrap<OwnAccount>(client.GET("/api/account")) });

/** Do something to one's own account and show it as it is then; false where it was refused. */
export async function ofAccount<T>(act: () => Promise<T>): Promise<T | null> {
  try {
    const done = await act();
    await queryClient.invalidateQueries({ queryKey: ACCOUNT });
    await queryClient.invalidateQueries({ queryKey: SESSION });
    return done;
  } catch (error) {
    report(error);
    return null;
  }
}

export const editMyself = (change: { name?: string; mails?: boolean }) =>
  ofAccount(() => unwrap(client.PATCH("/api/account", { body: { name: null, mails: null, ...change } })));

export const changePassword = (password: string, new_password: string) =>
  ofAccount(() =>
    unwrap<OwnAccount>(client.POST("/api/account/password", { body: { password, new_password } })),
  );

type Second = { secret: string; uri: string; picture: string };
type Codes = { codes: string[] };

export const proposeSecond = () => ofAccount(() => unwrap<Second>(client.GET("/api/account/second")));

export const beginSecond = (secret: string, code: string, password: string) =>
  ofAccount(() => unwrap<Codes>(client.POST("/api/account/second", { body: { secret, code, password } })));

export const endSecond = (password: string) =>
  ofAccount(() => unwrap<OwnAccount>(client.POST("/api/account/second/end", { body: { password } })));

export const newRecovery = (password: string) =>
  ofAccount(() => unwrap<Codes>(client.POST("/api/account/recovery", { body: { password } })));

export const endDevice = (number: number) =>
  ofAccount(() => unwrap(client.DELETE("/api/account/devices/{number}", { params: { path: { number } } })));

export const addProgram = (name: string, days: number) =>
  ofAccount(() => unwrap<{ token: string }>(client.POST("/api/account/programs", { body: { name, days } })));

const people = (project: number) => [...keys.project(project), "people"] as const;
const links = (project: number) => [...keys.project(project), "links"] as const;
const ofProject = (id: number) => ({ params: { path: { id } } });

/** Who belongs to a project; of an installation at which nobody signs in, nobody does. */
export const usePeople = (project: number, wanted: boolean) =>
  useQuery({
    queryKey: people(project),
    enabled: wanted,
    queryFn: () => unwrap<People>(client.GET("/api/projects/{id}/people", ofProject(project))),
  });

export type Made = { id: number | null; token: string; mailed: boolean };

export const invite = (project: number, mail: string, role: Role) =>
  done(
    people(project),
    unwrap<Made>(
      client.POST("/api/projects/{id}/invitations", { ...ofProject(project), body: { mail, role } }),
    ),
  );

export const takeBackInvitation = (id: number, number: number) =>
  done(
    people(id),
    unwrap(client.DELETE("/api/projects/{id}/invitations/{number}", { params: { path: { id, number } } })),
  );

export const giveRole = (id: number, account: number, role: Role) =>
  done(
    people(id),
    unwrap(
      client.PATCH("/api/projects/{id}/people/{account}", {
        params: { path: { id, account } },
        body: { role },
      }),
    ),
  );

export const takeOut = (id: number, account: number) =>
  done(
    people(id),
    unwrap(client.DELETE("/api/projects/{id}/people/{account}", { params: { path: { id, account } } })),
  );

export const useLinks = (project: number, wanted: boolean) =>
  useQuery({
    queryKey: links(project),
    enabled: wanted,
    queryFn: () => unwrap<SharedLink[]>(client.GET("/api/projects/{id}/links", ofProject(project))),
  });

export type LinkWanted = { name: string; issue: number | null; sheets: number[]; days: number; word: string };

export const makeLink = (project: number, body: LinkWanted) =>
  done(
    links(project),
    unwrap<SharedLink>(client.POST("/api/projects/{id}/links", { ...ofProject(project), body })),
  );

export const withdrawLink = (id: number, number: number) =>
  done(
    links(id),
    unwrap(client.DELETE("/api/projects/{id}/links/{number}", { params: { path: { id, number } } })),
  );

/** The newest of what was done to rights: of a project, or, with null, of the installation. */
export const useAudit = (project: number | null, wanted: boolean) =>
  useQuery({
    queryKey: project === null ? ["audit"] : [...people(project), "audit"],
    enabled: wanted,
    queryFn: () =>
      unwrap<AuditEntry[]>(
        project === null
          ? client.GET("/api/audit")
          : client.GET("/api/projects/{id}/audit", ofProject(project)),
      ),
  });

const ACCOUNTS = ["accounts"] as const;

export const useAccounts = () =>
  useQuery({ queryKey: ACCOUNTS, queryFn: () => unwrap<Account[]>(client.GET("/api/accounts")) });

export const useInvited = () =>
  useQuery({
    queryKey: [...ACCOUNTS, "invited"],
    queryFn: () => unwrap<Invited[]>(client.GET("/api/invitations")),
  });

export const editAccount = (id: number, change: AccountEdit) =>
  done(
    ACCOUNTS,
    unwrap(
      client.PATCH("/api/accounts/{id}", {
        params: { path: { id } },
        body: { name: null, runs: null, may_make: null, may_keep: null, closed: null, ...change },
      }),
    ),
  );

export const wayBack = (id: number) =>
  done(ACCOUNTS, unwrap<Made>(client.POST("/api/accounts/{id}/way-back", { params: { path: { id } } })));

export const inviteToInstallation = (mail: string) =>
  done(ACCOUNTS, unwrap<Made>(client.POST("/api/invitations", { body: { mail, role: null } })));

export const takeBackFromInstallation = (id: number) =>
  done(ACCOUNTS, unwrap(client.DELETE("/api/invitations/{id}", { params: { path: { id } } })));
