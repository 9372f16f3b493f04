"""How soon the picture follows a pull: from a pointer event to the frame that shows it, in headless Chromium."""

from playwright.sync_api import sync_playwright

FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync"
)
# After a pointer event has been handled, the second frame callback runs once the first frame has been put on the screen.
WATCH = """() => {
  window.lags = [];
  addEventListener("pointermove", (event) => {
    requestAnimationFrame(() => requestAnimationFrame((now) => {
      if (document.querySelector("[data-testid=draft]")) window.lags.push(now - event.timeStamp);
    }));
  }, true);
}"""


def drag(base_url: str) -> float:
    """95th percentile in ms over two hundred pointer moves on the job that was changed last on the server."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS.split())
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(base_url)
        page.locator("a[href^='/jobs/']").first.click()
        page.wait_for_timeout(800)
        opening = page.locator("[data-opening='opening-10']")
        opening.click()
        for _ in range(20):
            page.keyboard.press("+")
        page.wait_for_timeout(1500)
        page.evaluate(WATCH)
        box = opening.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for n in range(200):
            page.mouse.move(x + 40 * ((n % 20) / 10 - 1), y + 10 * ((n % 14) / 7 - 1))
            page.wait_for_timeout(16)
        page.mouse.up()
        lags = sorted(page.evaluate("() => window.lags"))
        browser.close()
    return lags[int(0.95 * len(lags))]
