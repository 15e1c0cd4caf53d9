"""An installation that people sign in at: a second web server, which asks for that, before the same database."""

from __future__ import annotations

import os
import subprocess
import sys
import urllib.request
from dataclasses import dataclass, field
from typing import Any

from edge_slice.launch.letterbox import Letterbox
from edge_slice.launch.postgres import free_port
from tests.installation import Answer, Installation, sent
from tests.office_service import CLIENT, SECRET, OfficeService

PASSWORD = "violet harbour granite otter"


@dataclass
class Caller:
    """Somebody with a browser of their own, or a program: what they hold is sent along."""

    url: str
    held: dict[str, str] = field(default_factory=dict)
    token: str = ""
    address: str = ""

    def call(self, method: str, path: str, body: Any = None, **headers: str) -> Answer:
        more = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.held.items())} if self.held else {}
        if self.token:
            more["Authorization"] = f"Bearer {self.token}"
        answer = sent(self.url, method, path, body, {**more, **headers})
        for said in answer.cookies:
            name, value = said.split(";")[0].split("=", 1)
            self.held.pop(name, None)
            if value.strip('"'):
                self.held[name] = value
        return answer

    def sign_in(self, mail: str, password: str = PASSWORD, code: str = "") -> Answer:
        return self.call("POST", "/api/session", {"mail": mail, "password": password, "code": code})


class Office:
    """`owner` sees to the installation, and owns what nobody owns."""

    def __init__(self, installation: Installation) -> None:
        self.installation = installation
        self.port, self.events_port = free_port(), free_port()
        self.service = OfficeService()
        self.letters = Letterbox(installation.mail_port)
        self.letters.start()
        environment = {**installation.environment, "EDGE_SLICE_SIGN_IN": "true", "EDGE_SLICE_PROXIES": "1",
                       "EDGE_SLICE_EVENTS_PORT": str(self.events_port),
                       "EDGE_SLICE_OIDC_ISSUER": self.service.issuer, "EDGE_SLICE_OIDC_CLIENT": CLIENT,
                       "EDGE_SLICE_OIDC_SECRET": SECRET, "EDGE_SLICE_ADDRESS": f"http://127.0.0.1:{self.port}",
                       "EDGE_SLICE_WEB_URL": f"http://127.0.0.1:{self.port}"}  # fmt: skip
        self.url = f"http://127.0.0.1:{self.port}"
        said = {"env": environment, "start_new_session": True, "stdin": subprocess.DEVNULL}
        self.processes = [
            subprocess.Popen([sys.executable, "-m", "gunicorn", "edge_slice.web.server:create_server(warm=False)",
                              "--bind", f"127.0.0.1:{self.port}", "--worker-class", "gthread", "--threads", "16",
                              "--log-level", "warning"], **said),  # type: ignore[call-overload]
            subprocess.Popen([sys.executable, "-m", "edge_slice.events", "--port", str(self.events_port)], **said),
        ]  # fmt: skip
        installation.until(self._answers)
        self.make_owner("ada@curlew.example", "Ada Owner")
        self.owner = self.caller("ada@curlew.example")

    def _answers(self) -> bool:
        try:
            return urllib.request.urlopen(f"{self.url}/api/settings", timeout=5).status == 200
        except OSError:
            return False

    def make_owner(self, mail: str, name: str) -> None:
        self.installation.python(
            f"from edge_slice.app.people.first_owner import make_owner; make_owner({mail!r}, {name!r}, {PASSWORD!r})"
        )

    def stop(self) -> None:
        self.letters.stop()
        self.service.stop()
        for process in self.processes:
            process.terminate()
        for process in self.processes:
            process.wait(timeout=20)

    def stranger(self) -> Caller:
        return Caller(self.url)

    def caller(self, mail: str) -> Caller:
        made = self.stranger()
        assert made.sign_in(mail).json == {"needs_code": False}
        return made

    def member(self, project: int, role: str, name: str) -> Caller:
        """Somebody new, who is invited to a project and accepts."""
        mail = f"{name.lower()}-{os.urandom(4).hex()}@curlew.example"
        made = self.owner.call("POST", f"/api/projects/{project}/invitations", {"mail": mail, "role": role})
        assert made.status == 201, made.body
        came = self.stranger()
        said = {"token": made.json["token"], "name": name, "password": PASSWORD}
        assert came.call("POST", "/api/invitation/accept", said).status == 204
        return came
