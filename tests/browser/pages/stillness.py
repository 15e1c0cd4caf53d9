"""When a page rests: nothing is asked or cut any more, and nothing moves."""

from __future__ import annotations

from playwright.sync_api import Page

PATIENCE = 60_000  # milliseconds
# run before a page's own scripts: counts what it has asked and not got yet (its line of events is a worker's)
COUNTING = """
window.underWay = 0;
const ask = window.fetch;
window.fetch = (...wanted) => {
  window.underWay += 1;
  return ask(...wanted).finally(() => (window.underWay -= 1));
};
"""
RESTS = """
(patience) => new Promise((done, fails) => {
  let [last, same] = ["", 0];
  const end = performance.now() + patience;
  const look = () => {
    const places = [...document.querySelectorAll("canvas, button, svg [role=button], svg polygon")].map((one) => {
      const { x, y, width, height } = one.getBoundingClientRect();
      return [x, y, width, height].map((n) => n.toFixed(1)).join();
    }).join(";");
    const quiet = window.underWay === 0 && !document.querySelector("[aria-label=Cutting]");
    same = quiet && places === last ? same + 1 : 0;
    last = places;
    if (same === 6) done();
    else if (performance.now() > end) fails(new Error(`the page does not rest; asked for ${window.underWay}`));
    else requestAnimationFrame(look);
  };
  look();
})
"""


def rests(page: Page) -> None:
    """Wait until the page rests: for as many frames as changes need to reach what they change."""
    page.evaluate(RESTS, PATIENCE)
