"""Drawing rules on the command line: what no option says is as the rule has it."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from edge_slice.command_line.main import run
from tests.ifc_files import write_hut

LINE = ["--line", "2,-1", "2,4", "--look", "left"]
RULE = {"name": "Working", "kind": "section", "cut": {"depth": 1.5, "without": ["slab"]}, "style": {"scale": 20}}


@pytest.fixture
def hut(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    return write_hut(tmp_path / "hut.ifc")


def drawn(hut: Path, name: str, *options: str) -> bytes:
    out = hut.with_name(f"{name}.svg")
    assert run(["cut", str(hut), *LINE, *options, "--out", str(out)]) == 0
    return out.read_bytes()


def ruled(hut: Path, rule: dict[str, Any] | None = None) -> list[str]:
    path = hut.with_name("rule.json")
    path.write_text(json.dumps({**RULE, **(rule or {})}))
    return ["--rule", str(path)]


def test_a_rule_says_what_no_option_says(hut: Path) -> None:
    said = drawn(hut, "said", "--depth", "1.5", "--without", "slab", "--scale", "20")
    assert drawn(hut, "ruled", *ruled(hut)) == said
    assert said != drawn(hut, "usual")


def test_an_option_is_heeded_even_where_it_says_what_is_usual(hut: Path) -> None:
    usual = drawn(hut, "usual", "--without", "slab")
    assert drawn(hut, "ruled", *ruled(hut), "--scale", "50", "--depth", "unlimited") == usual


def test_a_run_file_names_a_rule_beside_it(hut: Path) -> None:
    ruled(hut)
    file = hut.with_name("run.toml")
    file.write_text(
        'model = "hut.ifc"\ncommon = { rule = "rule.json" }\n'
        '[[drawing]]\ncommand = "cut"\nline = [[2, -1], [2, 4]]\nlook = "left"\nout = "run.svg"\n'
    )
    assert run(["run", str(file)]) == 0
    assert hut.with_name("run.svg").read_bytes() == drawn(hut, "alone", *ruled(hut))


@pytest.mark.parametrize(
    ("rule", "says"),
    [
        ({"kind": "plan"}, "drawings of the kind plan, not section"),
        ({"style": {"standard": "own-3"}}, "give it with --standard"),
        ({"cut": {"shown_set": "own-2"}}, "leave that out of the file"),
        ({"cut": {"without": ["walls"]}}, "“walls” is no kind of element"),
        ({"style": {"scale": -1}}, "style.scale"),
        ({"colour": "red"}, "colour"),
    ],
    ids=["kind", "standard", "shown set", "kind of element", "scale", "unknown"],
)
def test_what_a_rule_cannot_say_here_is_refused(
    hut: Path, capsys: pytest.CaptureFixture[str], rule: dict[str, Any], says: str
) -> None:
    out = hut.with_name("out.svg")
    assert run(["cut", str(hut), *LINE, *ruled(hut, rule), "--out", str(out)]) == 2
    assert says in capsys.readouterr().err
    assert not out.exists()


def test_a_rule_that_is_not_there_is_told(hut: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["cut", str(hut), *LINE, "--rule", "none.json", "--out", str(hut.with_name("out.svg"))]) == 2
    assert "no drawing rule none.json" in capsys.readouterr().err
