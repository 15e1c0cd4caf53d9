"""python docs/draw_hatches.py: docs/hatches.png, anew: every hatch of the fine-line standard at three scales."""

from __future__ import annotations

import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright

from edge_slice.command_line.main import run

OUT = Path(__file__).parent / "hatches.png"
ARGUMENTS = ["--no-sandbox", "--disable-quic", "--no-first-run", "--disable-background-networking"]
WIDE = 1500  # pixels


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        page_of_hatches = Path(folder) / "hatches.svg"
        if run(["hatches", "--out", str(page_of_hatches)]):
            raise SystemExit(1)
        with sync_playwright() as play:
            chromium = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
            page = chromium.new_page(viewport={"width": WIDE, "height": 800})
            page.set_content(f"<body style='margin:0'>{page_of_hatches.read_text('utf-8')}</body>")
            page.add_style_tag(content=f"svg{{width:{WIDE}px;height:auto;display:block}}")
            page.locator("svg").screenshot(path=OUT)
            chromium.close()


if __name__ == "__main__":
    main()
