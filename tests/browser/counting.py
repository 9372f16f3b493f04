"""What the page does, counted: components drawn anew, nodes and listeners that are held."""

from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, expect

# React tells whoever listens as its developer tools do of each commit; a function or class (tags 0, 1, 11, 14, 15) that
# has done work in it (flag 1), and is not what it was before, was drawn anew.
LISTEN = """
window.drawn = [];
window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
  supportsFiber: true, isDisabled: false, renderers: new Map(),
  inject: () => 1, checkDCE() {}, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
  onCommitFiberRoot(id, root) {
    let count = 0;
    const walk = (next, before) => {
      if (next === before) return;
      if ([0, 1, 11, 14, 15].includes(next.tag) && next.flags & 1) count++;
      if (before && next.child === before.child) return;
      for (let child = next.child; child; child = child.sibling) walk(child, before && child.alternate);
    };
    walk(root.current, root.current.alternate);
    window.drawn.push(count);
  },
};
"""


def drawn_per_move(page: Page, at: tuple[float, float], moves: int = 12) -> float:
    """Components drawn anew for each move of a pull that begins at a point of the screen. `LISTEN` must have run first."""
    x, y = at
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 2, y + 1)
    page.wait_for_timeout(300)  # what the beginning of a pull draws is not counted
    page.evaluate("window.drawn.length = 0")
    for n in range(moves):
        page.mouse.move(x + 3 + 2 * n, y + 2 + n)
        page.wait_for_timeout(50)
    count: int = page.evaluate("window.drawn.reduce((a, b) => a + b, 0)")
    page.keyboard.press("Escape")
    page.mouse.up()
    return count / moves


def open_and_close(page: Page, address: str, times: int) -> None:
    """A job from the shelf to its bench and back, so many times."""
    for _ in range(times):
        page.locator(f"a[href='{address}']").first.click()
        expect(page.get_by_test_id("sheet")).to_be_visible()
        page.wait_for_timeout(300)
        page.get_by_role("link", name="Shelf").click()
        expect(page.get_by_role("button", name="Studio card")).to_be_visible()
        page.wait_for_timeout(300)


@contextmanager
def held(page: Page) -> Iterator[dict[str, int]]:
    """How many more nodes and listeners there are after what is done than before it."""
    client = page.context.new_cdp_session(page)
    client.send("Performance.enable")

    def count() -> dict[str, int]:
        client.send("HeapProfiler.collectGarbage")
        metrics = {one["name"]: one["value"] for one in client.send("Performance.getMetrics")["metrics"]}
        return {name: int(metrics[name]) for name in ("Nodes", "JSEventListeners")}

    before = count()
    more: dict[str, int] = {}
    yield more
    after = count()
    more.update({name: after[name] - before[name] for name in before})
    client.detach()
