"""Short jobs don't wait for long ones."""

from __future__ import annotations

import psycopg

from tests.installation import Installation

DEFER = """
from edge_slice.app.output.publications import QUEUE, TASK
from edge_slice.store.database import transaction
from edge_slice.store.queue import defer
with transaction() as session:
    for _ in range(3):
        defer(session, QUEUE, TASK, {{"publication_id": {number}}})
"""
UNDER_WAY = "SELECT count(*) FROM procrastinate_jobs WHERE task_name = 'publish' AND status = 'doing'"
LEFT = "SELECT count(*) FROM procrastinate_jobs WHERE task_name = 'recut' AND args->>'project_id' = '{project}'"


def test_a_recut_does_not_wait_for_publications(installation: Installation, hut_project: int) -> None:
    installation.call("POST", f"/api/projects/{hut_project}/sheets", {})
    made = installation.call("POST", f"/api/projects/{hut_project}/publications", {"form": "pdf"}).json["id"]
    installation.until(lambda: installation.call("GET", f"/api/publications/{made}").json["state"] == "ready")
    with psycopg.connect(installation.cluster.url.replace("+psycopg", "")) as held:
        held.execute("SELECT id FROM publication WHERE id = %s FOR UPDATE", [made])  # those that come wait for this
        installation.python(DEFER.format(number=made))
        installation.until(lambda: installation.one(UNDER_WAY) == (2,))  # all that a worker takes of long ones
        assert installation.call("POST", f"/api/projects/{hut_project}/recut").status == 202
        installation.until(lambda: installation.one(LEFT.format(project=hut_project)) == (0,))
        assert installation.one(UNDER_WAY) == (2,)
    installation.until(lambda: installation.one(UNDER_WAY) == (0,))
