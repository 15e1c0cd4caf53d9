"""Debian's Firefox over WebDriver BiDi (W3C), as far as a short walk needs it."""

from __future__ import annotations

import json
import re
import subprocess
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from websockets.sync.client import ClientConnection, connect

PROGRAM = "firefox-esr"
LISTENING = re.compile(r"WebDriver BiDi listening on (ws://\S+)")
PATIENCE = 40.0  # seconds


class OtherBrowser:
    """One window; `errors` are what its console said was wrong."""

    def __init__(self, profile: Path) -> None:
        command = [PROGRAM, "--headless", "--no-remote", "--profile", str(profile), "--remote-debugging-port=0",
                   "--width=1280", "--height=800"]  # fmt: skip
        self._process = subprocess.Popen(command, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL, text=True)
        assert self._process.stderr is not None
        address = next(found[1] for line in self._process.stderr if (found := LISTENING.search(line)))
        self._socket: ClientConnection = connect(f"{address}/session", max_size=None)
        self._number, self.errors = 0, list[str]()
        self.ask("session.new", capabilities={})
        self.ask("session.subscribe", events=["log.entryAdded"])
        self._context = self.ask("browsingContext.getTree")["contexts"][0]["context"]
        viewport = {"width": 1280, "height": 800}
        self.ask("browsingContext.setViewport", context=self._context, viewport=viewport)

    def ask(self, method: str, **params: Any) -> Any:
        self._number += 1
        self._socket.send(json.dumps({"id": self._number, "method": method, "params": params}))
        while True:
            said = json.loads(self._socket.recv(timeout=PATIENCE))
            if said.get("method") == "log.entryAdded" and said["params"]["level"] == "error":
                self.errors.append(str(said["params"].get("text")))
            if said.get("id") == self._number:
                assert said["type"] == "success", said
                return said["result"]

    def open(self, url: str) -> None:
        self.ask("browsingContext.navigate", context=self._context, url=url, wait="complete")

    def run(self, code: str) -> Any:
        """The value (as JSON) of an expression in the page."""
        answer = self.ask(
            "script.evaluate", expression=f"Promise.resolve({code}).then((x) => JSON.stringify(x ?? null))",
            target={"context": self._context}, awaitPromise=True,
        )  # fmt: skip
        assert answer["type"] == "success", answer
        return json.loads(answer["result"]["value"])

    def until(self, code: str) -> Any:
        """Wait until an expression in the page is true."""
        return self.wait(lambda: self.run(code), code)

    def wait(self, condition: Callable[[], Any], what: str) -> Any:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            found = condition()
            if found:
                return found
            time.sleep(0.2)
        raise AssertionError(f"not within {PATIENCE:.0f} s: {what}")

    def box(self, selector: str) -> tuple[float, float, float, float]:
        """Left, top, width and height of what a selector finds."""
        code = f"(() => {{ const b = document.querySelector({json.dumps(selector)}).getBoundingClientRect();"
        x, y, wide, high = self.run(f"{code} return [b.x, b.y, b.width, b.height]; }})()")
        return x, y, wide, high

    def click(self, x: float, y: float) -> None:
        self._pointer([{"type": "pointerMove", "x": round(x), "y": round(y), "duration": 60},
                       {"type": "pointerDown", "button": 0}, {"type": "pointerUp", "button": 0}])  # fmt: skip

    def move(self, x: float, y: float) -> None:
        self._pointer([{"type": "pointerMove", "x": round(x), "y": round(y), "duration": 120}])

    def press(self, *keys: str) -> None:
        """Keys held together, such as Shift and N."""
        down = [{"type": "keyDown", "value": k} for k in keys]
        up = [{"type": "keyUp", "value": k} for k in reversed(keys)]
        self.ask("input.performActions", context=self._context,
                 actions=[{"type": "key", "id": "keyboard", "actions": [*down, *up]}])  # fmt: skip

    def type(self, words: str) -> None:
        for letter in words:
            self.press(letter)

    def _pointer(self, actions: list[dict[str, Any]]) -> None:
        self.ask("input.performActions", context=self._context,
                 actions=[{"type": "pointer", "id": "mouse", "actions": actions}])  # fmt: skip

    def close(self) -> None:
        self._socket.close()
        self._process.terminate()
        self._process.wait(20)
