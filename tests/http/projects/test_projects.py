"""Projects, settings, history and events over HTTP."""

import json
import threading
import urllib.request

from tests.http.drawings.test_drawings import add_section
from tests.installation import UPLOAD_LIMIT_MB, Installation


def test_settings_tell_limits_and_choices(installation: Installation) -> None:
    settings = installation.call("GET", "/api/settings").json
    assert settings["upload_limit_mb"] == UPLOAD_LIMIT_MB
    assert 50 in settings["scales"]
    assert "A1" in settings["sheet_sizes"]


def test_project_is_renamed_and_a_stale_name_refused(installation: Installation, hut_project: int) -> None:
    path = f"/api/projects/{hut_project}"
    version = installation.version(path)
    renamed = installation.edit(path, {"name": "Bird hide", "client": "Trust"}).json
    assert (renamed["name"], renamed["client"]) == ("Bird hide", "Trust")
    assert renamed["version"] > version
    late = installation.call("PATCH", path, {"version": version, "name": "Shed"})
    assert late.status == 409
    assert late.json["current"]["name"] == "Bird hide"
    assert installation.edit(path, {"name": ""}).status == 422
    assert installation.call("POST", path + "/undo").json["label"] == "edit project"
    assert installation.call("GET", path).json["name"] == "Hut"


def test_a_new_act_ends_what_could_be_redone(installation: Installation, hut_project: int) -> None:
    path = f"/api/projects/{hut_project}"
    add_section(installation, hut_project)
    installation.call("POST", path + "/undo")
    add_section(installation, hut_project)
    assert installation.call("POST", path + "/redo").json["label"] == ""
    letters = [d["letter"] for d in installation.call("GET", path + "/drawings").json if d["kind"] == "section"]
    assert letters == ["A"]


def test_every_change_is_told_to_open_windows(installation: Installation, hut_project: int) -> None:
    heard: list[dict] = []
    ready = threading.Event()

    def listen() -> None:
        with urllib.request.urlopen(f"{installation.events_url}?projects={hut_project}", timeout=30) as stream:
            for raw in stream:
                line = raw.decode()
                ready.set()
                if line.startswith("data: "):
                    heard.append(json.loads(line[6:]))
                    if heard[-1]["project"] == hut_project:
                        return

    listener = threading.Thread(target=listen, daemon=True)
    listener.start()
    assert ready.wait(20)
    section = add_section(installation, hut_project)
    listener.join(20)
    (told,) = [h for h in heard if h["project"] == hut_project]
    ((table, _, version),) = told["rows"]
    assert (told["what"], table, version) == ("new drawing", "drawing", section["version"])


def test_change_log_keeps_who_before_and_after(installation: Installation, hut_project: int) -> None:
    section = add_section(installation, hut_project)
    installation.edit(f"/api/drawings/{section['id']}", {"name": "Named"})
    before, after = installation.one(
        f"SELECT before->>'name', after->>'name' FROM change WHERE row_id = {section['id']} AND label = 'edit name'"
    )
    assert (before, after) == ("", "Named")


def test_what_is_kept_in_memory_can_be_read(installation: Installation, hut_project: int) -> None:
    plan = installation.call("GET", f"/api/projects/{hut_project}/drawings").json[0]
    preview = {"cut": {**plan["cut"], "height": 1.234}, "style": plan["style"]}
    before = {one["name"]: one for one in installation.call("GET", "/api/memory").json}
    for _ in range(2):
        assert installation.call("POST", f"/api/projects/{hut_project}/view", preview).status == 200
    after = {one["name"]: one for one in installation.call("GET", "/api/memory").json}
    screens = [told.get("screens", {"made": 0, "asked": 0}) for told in (before, after)]
    assert screens[1]["made"] == screens[0]["made"] + 1
    assert screens[1]["asked"] == screens[0]["asked"] + 2
    assert after["models"]["size"] > 10_000
