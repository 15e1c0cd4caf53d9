"""A stand-in for a server that takes letters, for trying: it keeps them, sends none on, and listens on loopback."""

from __future__ import annotations

import threading
from collections.abc import Callable
from email import message_from_bytes, policy
from email.message import EmailMessage
from typing import Any

from aiosmtpd.controller import Controller


class Letterbox:
    """What was sent to it; `on_letter` hears of each."""

    def __init__(self, port: int, on_letter: Callable[[EmailMessage], None] | None = None) -> None:
        self.letters: list[EmailMessage] = []
        self._came = threading.Condition()
        self._on_letter = on_letter
        self._controller = Controller(self, hostname="127.0.0.1", port=port)

    def start(self) -> None:
        self._controller.start()

    def stop(self) -> None:
        self._controller.stop()

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:
        letter = message_from_bytes(envelope.content, policy=policy.default)
        with self._came:
            self.letters.append(letter)
            self._came.notify_all()
        if self._on_letter is not None:
            self._on_letter(letter)
        return "250 Taken"

    def letter_to(self, mail: str, about: str, wait: float = 60) -> EmailMessage:
        """The newest letter to somebody, with these words in its subject. Raises `TimeoutError` where none comes."""

        def found() -> EmailMessage | None:
            return next((one for one in reversed(self.letters) if mail in one["To"] and about in one["Subject"]), None)

        with self._came:
            self._came.wait_for(lambda: found() is not None, wait)
            letter = found()
        if letter is None:
            raise TimeoutError(f"no letter to {mail}")
        return letter
