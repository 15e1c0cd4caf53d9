import { useEffect, useRef } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { create } from "zustand";

/** Something that can be done now: the palette and the sheet of shortcuts list it. */
export type Command = { name: string; group: string; keys?: string; run: () => void };

type Commands = { commands: Command[]; put: (command: Command) => () => void };

export const useCommands = create<Commands>((set) => ({
  commands: [],
  put: (command) => {
    set((old) => ({ commands: [...old.commands, command] }));
    return () => set((old) => ({ commands: old.commands.filter((c) => c !== command) }));
  },
}));

/** `inFields`: its keys work while something is typed too. */
type Wanted = Command & { enabled?: boolean; inFields?: boolean };

/** Offers a command while a part of the page is there: in the palette, in the sheet of shortcuts, and by its keys. */
export function useCommand({ name, group, keys, enabled = true, inFields = false, run }: Wanted) {
  const latest = useRef(run);
  latest.current = run;
  const put = useCommands((s) => s.put);
  useEffect(
    () => (enabled ? put({ name, group, keys, run: () => latest.current() }) : undefined),
    [name, group, keys, enabled, put],
  );
  const sign = keys !== undefined && /^[^a-z0-9]$/.test(keys); // signs stand elsewhere on other keyboards
  useHotkeys(keys ?? "", () => latest.current(), {
    enabled: enabled && keys !== undefined,
    preventDefault: true,
    useKey: sign,
    enableOnFormTags: inFields,
  });
}

const KEY_WORDS: Record<string, string> = {
  mod: "Ctrl",
  shift: "Shift",
  alt: "Alt",
  escape: "Esc",
  enter: "Enter",
  delete: "Del",
};

/** Keys as they are printed: mod+shift+z is Ctrl Shift Z. */
export const keysText = (keys: string) =>
  keys
    .split("+")
    .map((key) => KEY_WORDS[key] ?? (key.length === 1 ? key.toUpperCase() : key))
    .join(" ");
