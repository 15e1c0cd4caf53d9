"""python -m bench.browser.tables: a table of 5,000 doors in headless Chromium at 1280x800: how long it takes to open,
how soon a cell that is typed and a column that is sorted by are seen, how many frames a second it scrolls at, and how
long it takes to go out as XLSX, read again with openpyxl. Ratios are to a yardstick, sorting a million numbers."""

from __future__ import annotations

import io
import statistics
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

import ifcopenshell
import ifcopenshell.api.aggregate
import ifcopenshell.api.context
import ifcopenshell.api.project
import ifcopenshell.api.root
import ifcopenshell.api.spatial
import ifcopenshell.api.unit
import ifcopenshell.guid
import numpy as np
import openpyxl
from playwright.sync_api import Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed
from bench.timing import median

STOREYS, ROW, COLUMN = 10, 25, 20  # doors: 10 x 25 x 20
ROUNDS, SECONDS = 12, 3.0
SPEEDS = (1800, 6000)  # px a second, a line is 61 px high
SCROLL = """([seconds, step]) => new Promise(done => {
  const grid = document.querySelector("main[aria-label=Table] table").parentElement
  let at = 0, frames = 0, began = performance.now(), most = grid.scrollHeight - grid.clientHeight
  const move = now => {
    grid.scrollTop = at = (at + step) % most
    frames += 1
    if (now - began < seconds * 1000) requestAnimationFrame(move)
    else done(frames / ((now - began) / 1000))
  }
  requestAnimationFrame(move)
})"""


def write_doors(path: Path) -> int:
    """Storeys full of doors, each with its size, mark and fire rating; answers how many."""
    file = ifcopenshell.api.project.create_file(version="IFC4")
    project = ifcopenshell.api.root.create_entity(file, ifc_class="IfcProject", name="Doors")
    ifcopenshell.api.unit.assign_unit(file, units=[ifcopenshell.api.unit.add_si_unit(file, unit_type="LENGTHUNIT")])
    model = ifcopenshell.api.context.add_context(file, context_type="Model")
    body = ifcopenshell.api.context.add_context(
        file, context_type="Model", context_identifier="Body", target_view="MODEL_VIEW", parent=model
    )
    building = ifcopenshell.api.root.create_entity(file, ifc_class="IfcBuilding", name="Doors")
    ifcopenshell.api.aggregate.assign_object(file, products=[building], relating_object=project)
    up = file.create_entity("IfcDirection", (0.0, 0.0, 1.0))
    for storey in range(STOREYS):
        floor = ifcopenshell.api.root.create_entity(file, ifc_class="IfcBuildingStorey", name=f"Level {storey}")
        floor.Elevation = 3.0 * storey
        ifcopenshell.api.aggregate.assign_object(file, products=[floor], relating_object=building)
        doors = []
        for k in range(ROW * COLUMN):
            wide = 0.8 + 0.1 * (k % 4)
            at = file.create_entity("IfcCartesianPoint", (2.0 * (k % ROW), 3.0 * (k // ROW), 3.0 * storey))
            axes = file.create_entity("IfcAxis2Placement3D", at)
            flat = file.create_entity("IfcRectangleProfileDef", "AREA", None, None, wide, 0.1)
            solid = file.create_entity("IfcExtrudedAreaSolid", flat, None, up, 2.1)
            shape = file.create_entity("IfcShapeRepresentation", body, "Body", "SweptSolid", [solid])
            door = file.create_entity(
                "IfcDoor", GlobalId=ifcopenshell.guid.new(), Name=f"Door {storey}.{k:03}", Tag=f"D{storey}{k:03}",
                OverallWidth=wide, OverallHeight=2.1,
                ObjectPlacement=file.create_entity("IfcLocalPlacement", None, axes),
                Representation=file.create_entity("IfcProductDefinitionShape", None, None, [shape]),
            )  # fmt: skip
            said = file.create_entity(
                "IfcPropertySingleValue", "FireRating", None, file.create_entity("IfcLabel", f"EI {30 * (k % 3)}")
            )
            pset = file.create_entity("IfcPropertySet", ifcopenshell.guid.new(), None, "Pset_DoorCommon", None, [said])
            file.create_entity("IfcRelDefinesByProperties", ifcopenshell.guid.new(), None, None, None, [door], pset)
            doors.append(door)
        ifcopenshell.api.spatial.assign_container(file, products=doors, relating_structure=floor)
    file.write(str(path))
    return STOREYS * ROW * COLUMN


def read_again(page: Page, k: int, act: Callable[[int], None]) -> float:
    """Until the table is read and painted again after an act, ms."""
    began = time.perf_counter()
    with page.expect_response(lambda response: response.url.endswith("/content")) as answer:
        act(k)
    answer.value.finished()
    page.evaluate("() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
    found = (time.perf_counter() - began) * 1000
    time.sleep(0.5)
    return found


def tell(what: str, times: list[float], yard: float) -> None:
    middle = statistics.median(times)
    print(f"{what:<42}{middle:>8.0f} ms{middle / yard / 1000:>8.1f} yardsticks, worst {max(times):.0f} ms")


def measure(page: Page, url: str, count: int, yard: float) -> None:
    project = call(url, "/api/projects")[0]["id"]
    table = call(url, f"/api/projects/{project}/tables", {"name": "Doors", "kind": "doors"})
    own = {"key": "remark", "head": "Remark", "shows": "own"}
    rating = {"key": "fire", "head": "Fire rating", "shows": "property", "name": "Pset_DoorCommon: FireRating"}
    spec = {**table["spec"], "columns": [own, rating, *table["spec"]["columns"]]}
    call(url, f"/api/tables/{table['id']}", {"version": table["version"], "spec": spec}, "PATCH")
    times = []
    for _ in range(5):
        began = time.perf_counter()
        page.goto(f"{url}/projects/{project}/tables/{table['id']}")
        page.locator("main[aria-label=Table] tbody td").first.wait_for()
        times.append((time.perf_counter() - began) * 1000)
    tell(f"opening {count} rows", times, yard)
    cell = page.get_by_role("textbox", name="Remark of").first

    def typed(k: int) -> None:
        cell.fill(f"seen {k}")
        cell.press("Enter")

    head = page.get_by_title("Sort by Name")
    for what, act in (("a cell typed, seen", typed), ("another order, seen", lambda _: head.click())):
        tell(what, [read_again(page, k, act) for k in range(ROUNDS)], yard)
    still = [page.evaluate(SCROLL, [SECONDS, 0.0]) for _ in range(3)]
    print(f"at rest: {statistics.median(still):.1f} frames a second, which is what the browser gives at most")
    for speed in SPEEDS:
        frames = [page.evaluate(SCROLL, [SECONDS, speed / 60]) for _ in range(3)]
        print(f"scrolled by {speed} px a second: {statistics.median(frames):.1f} frames a second")
    began = time.perf_counter()
    with urllib.request.urlopen(f"{url}/api/tables/{table['id']}/file/xlsx") as answer:
        data = answer.read()
    taken = (time.perf_counter() - began) * 1000
    rows = openpyxl.load_workbook(io.BytesIO(data), read_only=True).worksheets[0].max_row
    print(f"as XLSX: {taken:.0f} ms, {len(data) / 1e6:.1f} MB, {rows} rows")


def main() -> None:
    numbers = np.random.default_rng(1).random(1_000_000)
    yard = median(lambda: np.sort(numbers))
    print(f"yardstick: {yard * 1000:.1f} ms")
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "doors.ifc"
        count = write_doors(path)
        with installed(0, models=[path]) as (url, _), sync_playwright() as play:
            browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
            measure(browser.new_context(viewport={"width": 1280, "height": 800}).new_page(), url, count, yard)
            browser.close()


if __name__ == "__main__":
    main()
