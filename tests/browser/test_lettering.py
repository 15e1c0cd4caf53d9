"""Names in all scripts on the screen: in the faces that the application ships, as wide as the core measured them."""

from urllib.parse import quote

import pytest
from playwright.sync_api import Page

from tests.browser.pages.bench import Bench
from tests.core.texts.test_lettering import NAMES
from tests.http.drawings.test_drawings import plan_of
from tests.installation import Installation

# the widths of runs as the browser draws them, and whether each of their letters has a glyph of the asked family
MEASURED = """async (runs) => {
  const context = document.createElement("canvas").getContext("2d");
  const found = [];
  for (const { family, text, size } of runs) {
    const faces = await document.fonts.load(`12px "${family}"`, text);
    context.font = `${size * 100}px "${family}"`;
    const wide = context.measureText(text).width / 100;
    found.push([faces.length, wide]);
  }
  return found;
}"""


@pytest.fixture
def noted(installation: Installation, hut_project: int) -> dict:
    plan = plan_of(installation, hut_project)
    text = "\n".join(NAMES.values())
    document = {"kind": "note", "text": text, "points": [[0, 4000]], "width": 0}
    body = {"document": document, "spots": [{"at": [0, 0], "reach": 0}]}
    made = installation.call("POST", f"/api/drawings/{plan['id']}/annotations", body)
    assert made.status == 201, made.body
    return made.json


def test_the_browser_sets_every_script_as_it_was_measured(
    page: Page, installation: Installation, hut_project: int, noted: dict
) -> None:
    bench = Bench(page, installation, hut_project).open()
    bench.painted("Source")
    texts = [t for t in noted["texts"] if t["runs"]]
    assert len(texts) >= len(NAMES) - 2
    for text in texts:
        runs = text["runs"]
        found = page.evaluate(MEASURED, runs)
        for k, (faces, wide) in enumerate(found):
            assert faces >= 1, runs[k]
            if k + 1 < len(runs):
                assert runs[k]["x"] + wide == pytest.approx(runs[k + 1]["x"], abs=0.05), runs[k]


def test_a_note_in_another_script_is_typed_and_found(page: Page, installation: Installation, hut_project: int) -> None:
    plan = plan_of(installation, hut_project)
    body = {"document": {"kind": "note", "text": "Łazienka מעבדה", "points": [[0, 4000]]},
            "spots": [{"at": [0, 0], "reach": 0}]}  # fmt: skip
    installation.call("POST", f"/api/drawings/{plan['id']}/annotations", body)
    for words in ("łazienka", "lazienka", "מעבדה"):
        found = installation.call("GET", f"/api/projects/{hut_project}/annotations?words={quote(words)}").json
        assert [f["text"] for f in found] == ["Łazienka מעבדה"]
    Bench(page, installation, hut_project).open().painted("Source")
