"""python docs/list_licences.py: writes licences.md, which says what each library of the application is licensed by."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
HEAD = """# Licences

What the application is made of, beside our own code (MIT, [LICENSE](../LICENSE)), as each package says it itself.
Written by `python docs/list_licences.py`; tests and tools that do not go out are not in it.

"""


def python_packages() -> list[tuple[str, str, str]]:
    """Name, version, licence of what run.lock installs."""
    wanted = re.findall(r"^([a-zA-Z0-9_.-]+)==", (ROOT / "requirements" / "run.lock").read_text(), re.MULTILINE)
    tool = Path(sys.executable).with_name("pip-licenses")
    said = subprocess.run([tool, "--from=mixed", "--format=json", "--packages", *wanted], check=True,
                          capture_output=True, text=True)  # fmt: skip
    return [(one["Name"], one["Version"], one["License"]) for one in json.loads(said.stdout)]


def page_packages() -> list[tuple[str, str, str]]:
    """Name, version, licence of what is built into the pages."""
    locked = json.loads((ROOT / "frontend" / "package-lock.json").read_text())["packages"]
    return [
        (path.rpartition("node_modules/")[2], one["version"], one.get("license", "not said"))
        for path, one in locked.items()
        if path and not one.get("dev") and not one.get("optional")
    ]


def table(rows: list[tuple[str, str, str]]) -> str:
    said = sorted(set(rows), key=lambda row: row[0].lower())
    return "| package | version | licence |\n|---|---|---|\n" + "".join(f"| {a} | {b} | {c} |\n" for a, b, c in said)


if __name__ == "__main__":
    text = f"{HEAD}## Server\n\n{table(python_packages())}\n## Pages\n\n{table(page_packages())}"
    (ROOT / "docs" / "licences.md").write_text(text)
