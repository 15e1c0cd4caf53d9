import { type ReactNode, useEffect, useRef, useState } from "react";
import { keysText, useCommands } from "./commands";

export type MenuItem = { name: string; keys?: string; run: () => void };
type Place = { x: number; y: number };
const WIDE = 260; // pixels that a menu may take, to stay in the window
const ROW = 26;

/** What is around opens a menu at the pointer, or with the menu key: `items` of its own, or the commands of a group. */
export function WithMenu({
  items,
  group,
  children,
}: {
  items?: MenuItem[];
  group?: string;
  children: ReactNode;
}) {
  const [open, setOpen] = useState<{ at: Place; list: MenuItem[] } | null>(null);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: everything in the menu has a key or stands in the palette
    <div
      className="h-full min-h-0 min-w-0"
      onContextMenu={(event) => {
        const list = items ?? useCommands.getState().commands.filter((c) => c.group === group);
        if (event.target instanceof HTMLInputElement || list.length === 0) return;
        event.preventDefault();
        event.stopPropagation();
        setOpen({ at: { x: event.clientX, y: event.clientY }, list });
      }}
    >
      {children}
      {open && <Menu at={open.at} items={open.list} onClose={() => setOpen(null)} />}
    </div>
  );
}

function Menu({ at, items, onClose }: { at: Place; items: MenuItem[]; onClose: () => void }) {
  const menu = useRef<HTMLDivElement>(null);
  useEffect(() => {
    (menu.current?.firstElementChild as HTMLElement | null)?.focus();
    const outside = (event: Event) => !menu.current?.contains(event.target as Node) && onClose();
    window.addEventListener("pointerdown", outside, true);
    return () => window.removeEventListener("pointerdown", outside, true);
  }, [onClose]);
  const step = (by: number) => {
    const buttons = [...(menu.current?.children ?? [])] as HTMLElement[];
    const now = buttons.indexOf(document.activeElement as HTMLElement);
    buttons[(now + by + buttons.length) % buttons.length]?.focus();
  };
  return (
    <div
      ref={menu}
      role="menu"
      tabIndex={-1}
      className="fixed z-50 flex flex-col rounded border border-base-300 bg-base-100 py-1 shadow-lg"
      style={{
        left: Math.min(at.x, window.innerWidth - WIDE),
        top: Math.max(4, Math.min(at.y, window.innerHeight - items.length * ROW - 16)),
      }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") onClose();
        if (event.key === "ArrowDown") step(1);
        if (event.key === "ArrowUp") step(-1);
      }}
    >
      {items.map((item) => (
        <button
          key={item.name}
          type="button"
          role="menuitem"
          className="flex h-6.5 cursor-pointer items-center gap-6 px-3 text-left text-sm hover:bg-base-300 focus:bg-base-300 focus:outline-none"
          onClick={() => {
            onClose();
            item.run();
          }}
        >
          <span className="flex-1">{item.name}</span>
          {item.keys && <kbd className="kbd kbd-xs">{keysText(item.keys)}</kbd>}
        </button>
      ))}
    </div>
  );
}
