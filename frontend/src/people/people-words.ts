import type { Role } from "../api/client";

export const ROLES: Record<Role, { name: string; may: string }> = {
  owner: { name: "Owner", may: "do everything, and say who belongs to it" },
  editor: { name: "Editor", may: "draw and change everything" },
  reviewer: { name: "Reviewer", may: "look at everything, and remark" },
};

export const ROLE_NAMES = (Object.keys(ROLES) as Role[]).map((role) => [role, ROLES[role].name] as const);

/** What stands behind the # of this page's address. */
export const inAddress = (): string => window.location.hash.replace(/^#/, "");

/** The whole address of a page of this installation, with what is told behind the #. */
export const addressOf = (page: "invitation" | "link", token: string): string =>
  `${window.location.origin}/${page}#${token}`;

const WAYS: Record<string, string> = {
  late: "That took too long, or was done before. Sign in once more.",
  refused: "The office's service did not let you in.",
  closed: "This account is closed; ask who sees to this installation.",
  unproved: "The office's service does not say that your mail address is yours; ask who sees to it.",
  unknown: "You have no account here; ask who owns your project to invite you.",
  away: "The office's service can't be reached. Try again in a while.",
};

/** Why somebody did not come in by the office's service, as the address of the page says; empty where it says nothing. */
export function whyNotIn(query: string): string {
  const why = new URLSearchParams(query).get("way");
  return why === null ? "" : (WAYS[why] ?? "Signing in by the office's service failed. Try it once more.");
}

/** A moment of the past or the future, to the day; of today to the minute. */
export function day(moment: string, now = new Date()): string {
  const at = new Date(moment);
  const [then, today] = [at, now].map((one) => one.toLocaleDateString("sv"));
  return then === today ? at.toLocaleTimeString("sv", { hour: "2-digit", minute: "2-digit" }) : (then ?? "");
}

const KNOWN: readonly (readonly [RegExp, string])[] = [
  [/Firefox\//, "Firefox"],
  [/Edg\//, "Edge"],
  [/Chrome\//, "Chromium"],
  [/Safari\//, "Safari"],
];
const SYSTEMS: readonly (readonly [RegExp, string])[] = [
  [/Windows/, "Windows"],
  [/iPhone|iPad/, "iOS"],
  [/Mac OS/, "macOS"],
  [/Android/, "Android"],
  [/Linux/, "Linux"],
];

/** What somebody is signed in with, in short. */
export function deviceWords(device: string): string {
  const [browser, system] = [KNOWN, SYSTEMS].map((list) => list.find(([sign]) => sign.test(device))?.[1]);
  return browser ? `${browser}${system ? ` on ${system}` : ""}` : device || "an unknown device";
}
