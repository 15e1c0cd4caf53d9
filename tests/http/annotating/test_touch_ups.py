"""Touch-ups over HTTP: every kind, taken back, refused."""

from __future__ import annotations

import pytest

from tests.http.annotating.acts import (
    head,
    touch,
    touched,
)
from tests.installation import Installation


def test_a_touch_up_changes_the_view_and_is_taken_back(installation: Installation, section: dict) -> None:
    before = installation.call("GET", f"/api/drawings/{section['id']}").json["view"]
    made = touch(installation, section, act="hide", at=[1000, 1000], reach=5)
    assert made["said"] == "1 line hidden"
    view = installation.call("GET", f"/api/drawings/{section['id']}").json["view"]
    assert view != before
    (told,) = head(installation, section)["touched"]
    assert (told["source"], told["state"]) == (f"touch-up:{made['id']}", "exact")
    assert {x for x, _ in told["ghost"][0]} == {50}
    back = installation.call("POST", f"/api/drawings/{section['id']}/touch-ups/take-back", {"ids": [made["id"]]})
    assert back.status == 204
    assert installation.call("GET", f"/api/drawings/{section['id']}").json["view"] == before
    installation.call("POST", f"/api/projects/{section['project_id']}/undo")
    assert len(touched(installation, section)) == 1


def test_every_kind_of_touch_up(installation: Installation, section: dict) -> None:
    window = touch(installation, section, act="hide", box=[3700, -400, 4100, 2600], whole=True)
    assert len(window["document"]["sides"]) >= 3
    touch(installation, section, act="cut back", at=[1000, 1000], to=[1000, 1500], reach=5)
    made = touch(installation, section, act="restyle", at=[1200, 1000], reach=5, style={"ink": "#8a8a8a"})
    other = installation.call("PATCH", f"/api/touch-ups/{made['id']}", {"version": made["version"],
                              "style": {"ink": "#404040", "width": 0.5}})  # fmt: skip
    assert other.json["document"]["ink"] == "#404040"
    touch(installation, section, act="mask", ring=[[2000, 0], [2500, 0], [2500, 500]])
    touch(installation, section, act="hatch", at=[1100, 1000], style={"hatch": "brick"})
    assert [t["state"] for t in head(installation, section)["touched"]] == ["exact"] * 5


def test_a_surface_that_is_seen_gets_a_pattern_of_its_own(installation: Installation, section: dict) -> None:
    url = f"/api/drawings/{section['id']}"
    plain = installation.call("GET", f"{url}/export.svg").body
    body = {"act": "hatch", "at": [2500, 1200], "style": {"hatch": "brick English bond"}}
    made = installation.call("POST", f"{url}/touch-ups", body)
    assert (made.status, made.json["said"]) == (201, "1 seen surface: brick English bond")
    assert len(installation.call("GET", f"{url}/export.svg").body) > len(plain)
    wrong = installation.call("POST", f"{url}/touch-ups", {**body, "style": {"hatch": "bricks"}})
    assert wrong.status == 422
    installation.call("POST", f"{url}/touch-ups/take-back", {"ids": [made.json["id"]]})
    assert installation.call("GET", f"{url}/export.svg").body == plain


@pytest.mark.parametrize(
    ("body", "word"),
    [
        ({"act": "hide", "at": [2500, 1200], "reach": 1}, "nothing to touch up"),
        ({"act": "hatch", "at": [2500, 9000], "style": {"hatch": "brick"}}, "neither a cut face"),
        ({"act": "hide"}, "Say where"),
        ({"act": "cut back", "at": [1000, 1000]}, "from where to where"),
        ({"act": "mask", "ring": [[0, 0], [1, 1]]}, "three corners"),
    ],
)
def test_impossible_touch_ups_are_refused(installation: Installation, section: dict, body: dict, word: str) -> None:
    answer = installation.call("POST", f"/api/drawings/{section['id']}/touch-ups", body)
    assert (answer.status, word in answer.json["message"]) == (422, True), answer.body
