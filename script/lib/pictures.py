"""Pictures of the main views, 1280 × 800, light unless their name says otherwise. Look at each before you commit it."""

import os
import sys
import time
from pathlib import Path

from tests.browser.conftest import open_chromium
from tests.browser.hands import Hands
from tests.scripts.kept import kept_server

OUT = Path(__file__).parents[2] / "docs/screenshots"
SETTLE_S = 2.5
CLOCHE, SIGNS, TILES, LANTERNS = "Cloche labels, alpine", "Light signs", "Trail markers", "Lantern glasses"
VIEWS = {
    "bench": "/", "jobs": "/jobs", "logbook": "/logbook", "shop": "/shop", "practice": "/practice",
    "shelf": "/logbook/shelf", "cost": (SIGNS, "cost"), "coat": (TILES, "coat/apply"), "artwork": (SIGNS, "artwork"),
    "prove": (SIGNS, "coat/prove"), "grid": (CLOCHE, "grid"), "reading": (CLOCHE, "reading"),
    "window": (SIGNS, "window"), "window-dark": (SIGNS, "window"), "run": (SIGNS, "run"),
    "placing": (LANTERNS, "placing"),
}  # fmt: skip
"""What each shows: an address, or a demo job by how its name begins, and its chapter."""


AWAITED = {"artwork": "expected faint", "run": "tells the likeliest causes apart"}
"""Words that stand there once what takes long has come."""
PRESSED = {"run": "3 Dryopteris filix-mas"}
"""What is pressed first."""
PICTURES_SHOWN = "return [...document.images].every((i) => i.complete && i.naturalWidth > 0)"


def address_of(hands: Hands, view: str | tuple[str, str]) -> str:
    if isinstance(view, str):
        return view
    name, chapter = view
    hands.go("/jobs")
    hands.press(name)
    hands.wait(lambda: hands.driver.current_url.count("/") > 4, "the job never opened")
    number = hands.driver.current_url.split("/jobs/")[1].split("/")[0]
    return f"/jobs/{number}/{chapter}"


def take(hands: Hands, name: str) -> None:
    dark = name.endswith("-dark")
    hands.driver.execute_script(f"document.documentElement.dataset.theme = '{'dark' if dark else 'light'}'")
    hands.driver.execute_script("scrollTo(0, 0)")
    if name in PRESSED:
        hands.press(PRESSED[name])
    if name in AWAITED:
        hands.see(AWAITED[name])
    hands.wait(lambda: "still being worked out" not in hands.page(), "it is worked out for good")
    time.sleep(SETTLE_S)
    hands.wait(lambda: hands.driver.execute_script(PICTURES_SHOWN), "some picture never came")
    hands.driver.save_screenshot(str(OUT / f"{name}.png"))


def burning(hands: Hands) -> None:
    hands.go("/practice")
    for words in ("Practise on Trail markers", "Coat all pieces and let them dry", "To the grid", "Draw this grid"):
        hands.press(words)
    hands.press("Start the simulated burn")
    hands.see("Hold")
    time.sleep(6)
    take(hands, "burning")


def spot(hands: Hands) -> None:
    hands.go("/shop")
    hands.press("Spot and focus")
    take(hands, "spot")


def compare(hands: Hands) -> None:
    hands.go("/jobs")
    hands.press("Compare the coats")
    hands.press("part of a comparison")
    take(hands, "compare")


STORIES = {"burning": burning, "spot": spot, "compare": compare}


def main(names: list[str]) -> None:
    with kept_server(f"pictures-{os.getpid()}", demo=True) as server:
        driver = open_chromium()
        # The window's own frame: what is left of it is 1280 × 800.
        driver.set_window_size(1280, 800 + 143)
        hands = Hands(driver, f"http://127.0.0.1:{server.port}")
        hands.go("/")
        hands.press("Sign in")
        hands.see("Next for your hands")
        for name in names or [*VIEWS, *STORIES]:
            if name in STORIES:
                STORIES[name](hands)
            else:
                hands.go(address_of(hands, VIEWS[name]))
                take(hands, name)
        driver.quit()


if __name__ == "__main__":
    main(sys.argv[1:])
