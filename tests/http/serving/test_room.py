"""When there is hardly any room: what is large is refused first, what people edit is kept, and a full disk is told as
what it is; and what a server logs."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from tests.installation import Installation

# asks a server of its own, in the same process, and prints what it answers
ASKING = """
import json, sys
from edge_slice.logs import write_json
from edge_slice.web.server import create_server
write_json("web")
client = create_server(warm=False).test_client()
told = []
for method, path, body, file in json.loads(sys.argv[1]):
    said = {"data": {"file": open(file, "rb")}} if file else {"json": body}
    answer = client.open(path, method=method, **said)
    told.append([answer.status_code, answer.get_json(silent=True), answer.headers.get("X-Request-Id")])
print("told", json.dumps(told))
"""
Asked = tuple[str, str, Any, str | None]


def asked(installation: Installation, acts: list[Asked], **settings: str) -> tuple[list[Any], str]:
    """What such a server answers, by other settings, and what it logs."""
    done = subprocess.run(
        [sys.executable, "-c", ASKING, json.dumps(acts)], capture_output=True, text=True, check=True,
        env={**installation.environment, **{f"EDGE_SLICE_{name}": value for name, value in settings.items()}},
    )  # fmt: skip
    (line,) = (one for one in done.stdout.splitlines() if one.startswith("told "))
    return json.loads(line.removeprefix("told ")), done.stderr


@pytest.mark.parametrize(
    ("settings", "imports"),
    [
        ({"DATABASE_MB": "1"}, 507),
        ({"DATABASE_FOLDER": "/", "SPARED_MB": "1e9"}, 507),
        ({"DATABASE_MB": "1e9", "DATABASE_FOLDER": "/", "SPARED_MB": "0"}, 202),
    ],
    ids=str,
)
def test_what_is_large_is_refused_before_what_people_edit(
    installation: Installation, hut_project: int, hut_file: Path, settings: dict[str, str], imports: int
) -> None:
    project = installation.call("GET", f"/api/projects/{hut_project}").json
    installation.call("POST", f"/api/projects/{hut_project}/sheets", {})
    before = installation.rows("model_import")
    acts: list[Asked] = [
        ("POST", "/api/imports", None, str(hut_file)),
        ("POST", f"/api/projects/{hut_project}/publications", {"form": "pdf"}, None),
        ("PATCH", f"/api/projects/{hut_project}", {"version": project["version"], "name": "Still edited"}, None),
        ("GET", f"/api/projects/{hut_project}/drawings", None, None),
    ]
    (sent, published, edited, looked), _ = asked(installation, acts, **settings)
    assert (sent[0], published[0]) == (imports, imports)
    assert (edited[0], looked[0]) == (200, 200)
    assert installation.call("GET", f"/api/projects/{hut_project}").json["name"] == "Still edited"
    if imports == 507:
        assert "no room left" in sent[1]["message"]
        assert installation.rows("model_import") == before


def test_a_full_disk_is_told_as_what_it_is_and_nothing_is_half_kept(
    installation: Installation, hut_project: int
) -> None:
    installation.execute(
        "CREATE OR REPLACE FUNCTION disk_full() RETURNS trigger LANGUAGE plpgsql AS $$"
        " BEGIN RAISE EXCEPTION 'could not extend file' USING ERRCODE = '53100'; END $$;"
        "CREATE TRIGGER disk_full BEFORE INSERT ON remark FOR EACH ROW WHEN (NEW.text = 'the last straw')"
        " EXECUTE FUNCTION disk_full()"
    )
    drawing = installation.call("GET", f"/api/projects/{hut_project}/drawings").json[0]["id"]
    body = {"drawing": drawing, "at": [0, 0], "text": "the last straw"}
    try:
        answer = installation.call("POST", f"/api/projects/{hut_project}/remarks", body)
    finally:
        installation.execute("DROP TRIGGER disk_full ON remark; DROP FUNCTION disk_full()")
    assert answer.status == 507
    assert "disk of the database is full" in answer.json["message"]
    assert "can't be reached" not in answer.json["message"]
    assert answer.json["request"] == answer.headers["X-Request-Id"]
    assert installation.call("GET", f"/api/projects/{hut_project}/remarks").json == []
    assert installation.call("POST", f"/api/projects/{hut_project}/remarks", body).status == 201  # there is room again


def test_logs_are_json_by_setting_and_say_the_number_of_each_request(
    installation: Installation, hut_project: int
) -> None:
    acts: list[Asked] = [
        ("GET", f"/api/projects/{hut_project}", None, None),
        ("GET", "/api/projects/2000000000?secret=told", None, None),
    ]
    (there, gone), log = asked(installation, acts, LOG="json")
    assert gone[1]["request"] == gone[2] != there[2]
    lines = [json.loads(line) for line in log.splitlines() if line.startswith("{")]
    said = [(one["request"], one["status"], one["message"]) for one in lines if "request" in one]
    assert said == [
        (there[2], 200, f"GET /api/projects/{hut_project}"),
        (gone[2], 404, "GET /api/projects/2000000000"),
    ]
    assert all({"at", "level", "part", "took_ms", "address"} <= set(one) for one in lines if "request" in one)
    assert "secret" not in log
    _, quiet = asked(installation, acts)
    assert "GET /api" not in quiet
