"""The open windows, what each wants to hear of, and what was told lately."""

from __future__ import annotations

import asyncio
import secrets
import time
from collections import deque
from collections.abc import Collection
from dataclasses import dataclass, field

REMEMBERED = 2000  # events that a window can catch up on
WAITING = (
    500  # events that a window may be behind; one that reads no more is let go, and catches up when it comes again
)
MARGIN = 1.0  # seconds by which a window's reading may have begun earlier than it says
LOOK_ANEW = '{"project":null,"what":"connected","rows":null}'


@dataclass(frozen=True)
class Event:
    """`number`: counted by this process; `project`: whose windows hear it, None for all; `account`: whose alone."""

    number: int
    project: int | None
    text: str
    at: float  # seconds, by this process's clock
    account: int | None = None


@dataclass(eq=False)
class Window:
    """A connection, with the projects that it hears of, beside what concerns everybody."""

    projects: frozenset[int]
    account: int | None = None  # whose it is, where people sign in
    waiting: asyncio.Queue[Event | None] = field(default_factory=lambda: asyncio.Queue(WAITING))

    def wants(self, event: Event) -> bool:
        if event.account is not None:
            return event.account == self.account
        return event.project is None or event.project in self.projects

    def tell(self, event: Event) -> bool:
        """False where it is too far behind; then it ends."""
        if self.waiting.full():
            self.end()
            return False
        self.waiting.put_nowait(event)
        return True

    def end(self) -> None:
        """Let it go once it has read what waits."""
        if self.waiting.full():
            self.waiting.get_nowait()
        self.waiting.put_nowait(None)


class Windows:
    def __init__(self) -> None:
        self.here = secrets.token_hex(4)  # numbers are counted from this process's start: others' mean nothing
        self._open: set[Window] = set()
        self._told: deque[Event] = deque(maxlen=REMEMBERED)
        self._number = 0
        self._since = time.monotonic()

    def __len__(self) -> int:
        return len(self._open)

    def heard(self, project: int | None) -> bool:
        """Whether anybody wants to hear of a project."""
        return any(project is None or project in window.projects for window in self._open)

    def tell(self, project: int | None, text: str, account: int | None = None) -> None:
        """Tell those who want to hear of a project, or the windows of one account alone."""
        self._number += 1
        event = Event(self._number, project, text, time.monotonic(), account)
        self._told.append(event)
        for window in [w for w in self._open if w.wants(event)]:
            if not window.tell(event):
                self._open.discard(window)

    def end_of(self, account: int) -> None:
        """End the windows of an account: what they may hear of changed. They look anew, and come again; one that is
        just between two connections hears it then."""
        self._number += 1
        event = Event(self._number, None, LOOK_ANEW, time.monotonic(), account)
        self._told.append(event)
        for window in [w for w in self._open if w.account == account]:
            if window.tell(event):
                window.end()
            self._open.discard(window)

    def opened(
        self, projects: Collection[int], after: str = "", age: float = 0.0, account: int | None = None
    ) -> Window:
        """A window that heard everything up to the event named `after` (empty: nothing yet), and shows what it began to
        read `age` seconds ago. What it missed comes first; where that is not known any more, it is to look anew."""
        window = Window(frozenset(projects), account)
        missed = [event for event in self._told if self._is_missed(event, after, age) and window.wants(event)]
        if self._forgot(after, age) or len(missed) >= WAITING:
            missed = [Event(self._number, None, LOOK_ANEW, time.monotonic())]
        for event in missed:
            window.tell(event)
        self._open.add(window)
        return window

    def closed(self, window: Window) -> None:
        self._open.discard(window)

    def name(self, event: Event) -> str:
        return f"{self.here}-{event.number}"

    def _is_missed(self, event: Event, after: str, age: float) -> bool:
        return (age > 0 and event.at >= time.monotonic() - age - MARGIN) or (
            bool(after) and event.number > self._number_in(after)
        )

    def _forgot(self, after: str, age: float) -> bool:
        """Whether more was told since than is remembered."""
        whole = len(self._told) < REMEMBERED
        if after:
            known = after.startswith(f"{self.here}-") and (whole or self._number_in(after) + 1 >= self._told[0].number)
            if not known:
                return True
        began = time.monotonic() - age - MARGIN
        return age > 0 and began < (self._since if whole else self._told[0].at)

    def _number_in(self, name: str) -> int:
        number = name.rpartition("-")[2]
        return int(number) if number.isdecimal() else self._number
