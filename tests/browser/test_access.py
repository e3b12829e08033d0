"""Every page for every hand: names on all controls, headings, keys, text that can be read in both themes, sizes to
touch; and the shelf and the comparison used by their words alone."""

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.test_story import fetch, sign_in
from tests.scripts.kept import ROOT

pytestmark = pytest.mark.browser

PAGES = (
    "/", "/jobs", "/jobs/new", "/jobs/1/piece", "/jobs/3/coat", "/jobs/1/coat/choose", "/jobs/3/coat/mix",
    "/jobs/3/coat/apply", "/jobs/3/coat/dry", "/jobs/1/coat/prove",
    "/jobs/2/grid", "/jobs/2/reading", "/jobs/1/window", "/jobs/1/artwork",
    "/jobs/1/placing", "/jobs/1/run", "/jobs/1/cost", "/compare", "/logbook", "/logbook/shelf",
    "/logbook/days", "/shop", "/shop/machines/1/spot",
    "/shop/machines/1/turning", "/practice",
)  # fmt: skip

# Names, labels, roles, headings, contrast and order, by axe-core: WCAG 2.2 A and AA, and its best practice.
AXE = (ROOT / "web/node_modules/axe-core/axe.min.js").read_text()
RUN_AXE = """
const done = arguments[0]
axe.run(document, {resultTypes: ['violations']}).then(
  found => done(found.violations.flatMap(
    rule => rule.nodes.map(node => [rule.id, node.html.slice(0, 120), node.failureSummary]))),
  error => done([['axe', String(error)]]))
"""

SMALL = """
const inline = e => e.tagName === 'A' && getComputedStyle(e).display === 'inline'
return [...document.querySelectorAll('main button, main a[href], main select, main input:not(.sr-only), main summary')]
  .filter(e => e.getClientRects().length && !inline(e) && !e.closest('.sr-only'))
  .map(e => [e.textContent.trim().slice(0, 30) || e.name || e.outerHTML.slice(0, 60), e.type === 'checkbox'
    ? (e.closest('label') || e).getBoundingClientRect() : e.getBoundingClientRect()])
  .filter(([, box]) => box.height < 43.5 || box.width < 24)
  .map(([name, box]) => [name, Math.round(box.width), Math.round(box.height)])
"""


def settled(hands, place):
    hands.go(place)
    hands.wait(lambda: "Fetching" not in hands.page() and len(hands.page()) > 60, f"nothing came at {place}")


def wide(hands, width_px):
    size = {"width": width_px, "height": 780, "deviceScaleFactor": 1, "mobile": width_px < 600}
    hands.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


def audit(hands):
    """What is wrong with the page that is open, at a desk, in each theme, and on a phone."""
    ask = hands.driver.execute_script
    wrong = []
    ask("document.head.insertAdjacentHTML('beforeend', '<style>* { transition: none !important }</style>')")
    ask(AXE)
    for theme in ("light", "dark"):
        ask("document.documentElement.dataset.theme = arguments[0]", theme)
        wrong += [[theme, *found] for found in hands.driver.execute_async_script(RUN_AXE)]
    wide(hands, 390)
    wrong += [["small for a thumb", *found] for found in ask(SMALL)]
    wide(hands, 360)
    runs_to = ask("return document.documentElement.scrollWidth")
    wide(hands, 1280)
    return wrong + [["wider than a phone", runs_to]] * (runs_to > 360)


def test_every_page_is_named_readable_and_fits_a_phone_in_both_themes(hands):
    sign_in(hands)
    wide(hands, 1280)
    found, titles = {}, {}
    for place in PAGES:
        settled(hands, place)
        found[place] = audit(hands)
        titles[place] = hands.driver.title
    assert {place: wrong for place, wrong in found.items() if wrong} == {}
    assert all(title.endswith(" – Keen Coat") for title in titles.values()), titles
    assert titles["/jobs/2/grid"].startswith("Grid – ")
    assert hands.complaints() == []


def test_the_keyboard_goes_everywhere_and_shows_where_it_is(hands):
    sign_in(hands)
    settled(hands, "/jobs/3/coat/apply")
    seen = set()
    for _ in range(60):
        hands.keys(Keys.TAB)
        where = hands.driver.execute_script(
            "const e = document.activeElement;"
            "return [(e.getAttribute('aria-label') || e.textContent || e.name || '').trim().slice(0, 40),"
            " getComputedStyle(e).outlineStyle]"
        )
        if where[0]:
            seen.add(where[0])
            assert where[1] != "none", where
        if "take coat 1" in where[0]:
            break
    assert {"Choose", "Dry", "Prove"} & {s.split("done")[0].strip() for s in seen}
    hands.keys("?")
    hands.see("to the next thing that can be pressed")
    hands.keys(Keys.ESCAPE)
    hands.wait(lambda: "to the next thing that can be pressed" not in hands.page(), "the sheet stays")


def test_an_own_coat_is_compared_with_another(hands):
    sign_in(hands)
    settled(hands, "/shop")
    hands.press("Add a coat")
    # Nothing is chosen for the maker.
    figures = {"Name": "Ink and starch", "Coats": 2, "Dry film": 20, "Between coats": 20, "Before burning": 40}
    figures |= {"Comes off with": "warm water", "Ingredient": "tempera", "Solids by volume": 0}
    for label, value in figures.items():
        hands.type(label, value)
    hands.choose("What must dry out of it", "water")
    hands.choose("Colour", "black")
    for words in ("foam brush", "frost glass", "blue"):
        xpath = f"//label[starts-with(normalize-space(.), '{words}')]//input | //label[normalize-space(.)='{words}']"
        hands.driver.execute_script("arguments[0].click()", hands.driver.find_elements("xpath", xpath)[0])
    hands.press("Put it on the shelf")
    hands.see("solids_pct is 0")
    hands.type("Solids by volume", 22)
    hands.press("Put it on the shelf")
    hands.see("Ink and starch")

    settled(hands, "/compare?like=2")
    hands.type("Name", "Ink or spray")
    for label in ("Ink and starch, 2 coats", "matt black spray, 2 coats"):
        found = hands.wait(
            lambda words=label: hands.driver.find_elements("css selector", f"button[aria-label='{words}']"), label
        )
        hands.driver.execute_script("arguments[0].click()", found[0])
    hands.press("Plan 2 pieces")
    hands.see("Coat the pieces in the order on the right")
    made = fetch(hands, "/api/experiments")[0]
    assert made["name"] == "Ink or spray"
    assert sorted(x["arm"] for x in made["order"]) == [0, 1]
    hands.press("Ink and starch")
    hands.see("part of a comparison")
