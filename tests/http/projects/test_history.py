"""The history of a project over HTTP, and who is in it."""

import json
import threading
import urllib.request

from tests.http.drawings.test_drawings import add_section
from tests.installation import Installation


def steps(app: Installation, project: int) -> list[dict]:
    return app.call("GET", f"/api/projects/{project}/history").json


def names(app: Installation, project: int) -> list[str]:
    return [d["name"] for d in app.call("GET", f"/api/projects/{project}/drawings").json if d["letter"]]


def test_history_names_its_steps_and_goes_to_any_of_them(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    for name in ("One", "Two", "Three"):
        installation.edit(f"/api/drawings/{section['id']}", {"name": name})
    listed = steps(installation, hut_project)
    assert [s["label"] for s in listed] == ["edit name"] * 3 + ["new drawing"]
    assert {s["about"] for s in listed} == {"Three"}
    url = f"/api/projects/{hut_project}/history"
    assert installation.call("POST", url, {"act": listed[2]["act"]}).status == 200
    assert names(installation, hut_project) == ["One"]
    assert [s["undone"] for s in steps(installation, hut_project)] == [True, True, False, False]
    installation.call("POST", url, {"act": listed[0]["act"]})
    assert names(installation, hut_project) == ["Three"]
    assert not any(s["undone"] for s in steps(installation, hut_project))


def test_a_step_that_was_replaced_can_not_be_gone_to(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    installation.edit(f"/api/drawings/{section['id']}", {"name": "Gone"})
    gone = steps(installation, hut_project)[0]["act"]
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    add_section(installation, hut_project)
    answer = installation.call("POST", f"/api/projects/{hut_project}/history", {"act": gone})
    assert answer.status == 404
    assert "Gone" not in names(installation, hut_project)


def test_windows_hear_who_is_where(installation: Installation, hut_project: int) -> None:
    heard: list[dict] = []
    ready, done = threading.Event(), threading.Event()

    def listen() -> None:
        with urllib.request.urlopen(f"{installation.events_url}?projects={hut_project}", timeout=60) as stream:
            ready.set()
            for line in stream:
                if line.startswith(b"data: ") and b'"presence"' in line:
                    heard.append(json.loads(line[6:]))
                    done.set()
                    return

    threading.Thread(target=listen, daemon=True).start()
    assert ready.wait(30)
    who = {"window": "w1", "name": "Ada Quill", "drawing": 12, "here": True}
    url = f"/api/projects/{hut_project}/presence"
    while not done.wait(0.5):  # the listener may just be connecting
        assert installation.call("POST", url, who).status == 204
    assert heard == [{"project": hut_project, "what": "presence", "who": who}]
    assert installation.call("POST", "/api/projects/2000000000/presence", who).status == 404
