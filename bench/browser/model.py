"""python -m bench.browser.model: the Model bench in headless Chromium with software rendering at 1280x800, with the
demo: how long until all of it is there, how many frames a second it turns at, and how often its cut faces are new
while a plane is dragged."""

from __future__ import annotations

import time

from playwright.sync_api import Page, sync_playwright

from bench.browser.full_project import ARGUMENTS, call, installed

SECONDS = 4.0
# one event of the pointer for each frame that the browser gives; answers how many pictures were drawn meanwhile
TURN = """async (seconds) => {
  const canvas = document.querySelector('[data-model] canvas');
  const box = canvas.getBoundingClientRect();
  const drawn = () => Number(document.querySelector('[data-overlay]').dataset.frame || 0);
  const send = (to, type, x, y) => to.dispatchEvent(new PointerEvent(type, {
    bubbles: true, cancelable: true, pointerId: 1, pointerType: 'mouse', button: type === 'pointermove' ? -1 : 0,
    buttons: type === 'pointerup' ? 0 : 1, clientX: x, clientY: y, movementX: 2, movementY: 0 }));
  let x = box.left + 400;
  const y = box.top + 660;
  send(canvas, 'pointerdown', x, y);
  await new Promise((done) => setTimeout(done, 700));
  const [began, before] = [performance.now(), drawn()];
  while (performance.now() - began < seconds * 1000) {
    send(document, 'pointermove', (x += 2), y);
    await new Promise(requestAnimationFrame);
  }
  const frames = drawn() - before;
  send(document, 'pointerup', x, y);
  return frames;
}"""
DRAG = """async (seconds) => {
  const grip = document.querySelector('[aria-label="Move the plane"]');
  grip.setPointerCapture = () => {};
  const box = grip.getBoundingClientRect();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const send = (type, dx, dy) => grip.dispatchEvent(new PointerEvent(type, {
    bubbles: true, cancelable: true, pointerId: 1, button: 0, buttons: 1, clientX: x + dx, clientY: y + dy }));
  let [fresh, known, moves] = [0, '', 0];
  send('pointerdown', 0, 0);
  const began = performance.now();
  for (let k = 0; performance.now() - began < seconds * 1000; k++) {
    send('pointermove', 50 * Math.sin(k / 25), -30 * Math.sin(k / 25));
    moves++;
    await new Promise(requestAnimationFrame);
    const now = document.querySelector('[data-faces]').dataset.faces;
    if (now !== known) fresh++;
    known = now;
  }
  send('pointerup', 0, 0);
  return [fresh, moves];
}"""


def there(page: Page, url: str, project: int) -> float:
    began = time.perf_counter()
    page.goto(f"{url}/projects/{project}/model")
    page.wait_for_selector("[data-stage=whole]")
    return time.perf_counter() - began


def main() -> None:
    with installed(1) as (url, _), sync_playwright() as play:
        project = call(url, "/api/projects")[0]["id"]
        triangles = call(url, f"/api/projects/{project}")["facts"]["triangles"]
        browser = play.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        print(f"{triangles:,} triangles, all there after {there(page, url, project):.1f} s", flush=True)
        page.wait_for_timeout(1500)
        page.evaluate(TURN, 2.0)  # it finds out what this machine draws
        print(f"turned: {page.evaluate(TURN, SECONDS) / SECONDS:.0f} frames a second", flush=True)
        page.keyboard.press("Home")
        page.wait_for_timeout(1500)
        page.keyboard.press("y")
        page.mouse.move(600, 420)
        page.wait_for_function("document.querySelector('[data-model]').dataset.hover")
        page.mouse.click(600, 420)
        page.wait_for_timeout(1500)
        page.evaluate(DRAG, 2.0)
        fresh, moves = page.evaluate(DRAG, SECONDS)
        print(
            f"plane dragged: cut faces new {fresh / SECONDS:.1f} times a second, {moves / SECONDS:.0f} frames a second"
        )
        browser.close()


if __name__ == "__main__":
    main()
