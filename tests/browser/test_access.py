"""Every page for every hand: names on all controls, headings, keys, sizes to touch, in both themes; and the shelf and
the comparison used by their words alone."""

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.test_story import fetch, sign_in

pytestmark = pytest.mark.browser

PAGES = (
    "/", "/jobs", "/jobs/new", "/jobs/1/piece", "/jobs/1/coat/choose", "/jobs/3/coat/mix", "/jobs/3/coat/apply",
    "/jobs/3/coat/dry", "/jobs/1/coat/prove", "/jobs/2/grid", "/jobs/2/reading", "/jobs/1/window", "/jobs/1/artwork",
    "/jobs/1/placing", "/jobs/1/run", "/jobs/1/cost", "/compare", "/logbook", "/logbook/shelf",
    "/logbook/days", "/shop", "/shop/machines/1/turning", "/practice",
)  # fmt: skip

AUDIT = """
const shown = e => e.getClientRects().length && getComputedStyle(e).visibility !== 'hidden'
const name = e => (e.getAttribute('aria-label') || e.getAttribute('title') || e.textContent || e.alt || '').trim()
const wrong = []
for (const e of document.querySelectorAll('input, select, textarea')) {
  if (shown(e) && !e.labels?.length && !e.getAttribute('aria-label')) wrong.push(['no label', e.outerHTML.slice(0, 90)])
}
for (const e of document.querySelectorAll('button, a[href], summary, [role=button]')) {
  if (shown(e) && !name(e)) wrong.push(['no name', e.outerHTML.slice(0, 90)])
}
for (const e of document.querySelectorAll('img')) {
  if (shown(e) && e.getAttribute('alt') === null) wrong.push(['no alt', e.src])
}
for (const e of document.querySelectorAll('svg')) {
  const said = e.getAttribute('aria-label') || e.querySelector(':scope > title') || e.closest('[aria-hidden=true]')
  const mute = e.closest('button, a, label, [role=none], [role=presentation]')
  if (shown(e) && !said && !mute) wrong.push(['silent picture', e.outerHTML.slice(0, 90)])
}
const ids = [...document.querySelectorAll('[id]')].map(e => e.id)
for (const id of ids) if (ids.filter(x => x === id).length > 1) wrong.push(['doubled id', id])
for (const e of document.querySelectorAll('[tabindex]')) if (e.tabIndex > 0) wrong.push(['tab order', e.tagName])
if (document.querySelectorAll('h1').length !== 1) wrong.push(['h1', document.querySelectorAll('h1').length])
if (!document.documentElement.lang) wrong.push(['no language'])
return wrong
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


def test_every_control_has_a_name_in_both_themes(hands):
    sign_in(hands)
    for theme in ("light", "dark"):
        hands.driver.execute_script(f"document.documentElement.dataset.theme = '{theme}'")
        found = {}
        for place in PAGES:
            settled(hands, place)
            wrong = hands.driver.execute_script(AUDIT)
            if wrong:
                found[place] = wrong
        assert found == {}
    assert hands.complaints() == []


def test_targets_are_large_enough_for_a_thumb(hands):
    size = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
    hands.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    sign_in(hands)
    small = {}
    for place in PAGES:
        settled(hands, place)
        found = hands.driver.execute_script(SMALL)
        if found:
            small[place] = found
    assert small == {}


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
    hands.type("Name", "Ink and starch")
    hands.type("Solids by volume", 0)
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
