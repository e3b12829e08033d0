"""Every page for every hand: names on all controls, headings, keys, text that can be read in both themes, sizes to
touch; and the shelf and the comparison used by their words alone."""

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.test_story import fetch, sign_in

pytestmark = pytest.mark.browser

PAGES = (
    "/", "/jobs", "/jobs/new", "/jobs/1/piece", "/jobs/3/coat", "/jobs/1/coat/choose", "/jobs/3/coat/mix",
    "/jobs/3/coat/apply", "/jobs/3/coat/dry", "/jobs/1/coat/prove",
    "/jobs/2/grid", "/jobs/2/reading", "/jobs/1/window", "/jobs/1/artwork",
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

# WCAG 2.2, 1.4.3: text at least 4.5 : 1 on its ground, large text (24 px, or 18.66 px and bold) at least 3 : 1.
FAINT = """
const cell = Object.assign(document.createElement('canvas'), { width: 1, height: 1 })
  .getContext('2d', { willReadFrequently: true })
const rgba = words => {
  cell.clearRect(0, 0, 1, 1)
  cell.fillStyle = words
  cell.fillRect(0, 0, 1, 1)
  const [r, g, b, a] = cell.getImageData(0, 0, 1, 1).data
  return [r, g, b, a / 255]
}
const over = ([r, g, b, a], [R, G, B]) => [r * a + R * (1 - a), g * a + G * (1 - a), b * a + B * (1 - a)]
const ground = e => {
  const under = e.parentElement ? ground(e.parentElement) : [255, 255, 255]
  return over(rgba(getComputedStyle(e).backgroundColor), under)
}
const light = c => c.map(v => v / 255).map(v => v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
  .reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0)
const veil = e => e ? Number(getComputedStyle(e).opacity) * veil(e.parentElement) : 1
const faint = []
const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
while (walk.nextNode()) {
  const e = walk.currentNode.parentElement
  const shown = walk.currentNode.textContent.trim() && e.getClientRects().length
  if (!shown || e.closest('svg, .sr-only, :disabled')) continue
  const style = getComputedStyle(e)
  const [r, g, b, a] = rgba(style.color)
  const below = ground(e)
  const [one, other] = [light(over([r, g, b, a * veil(e)], below)), light(below)].sort((x, y) => y - x)
  const px = parseFloat(style.fontSize)
  const large = px >= 24 || (px >= 18.66 && Number(style.fontWeight) >= 700)
  const ratio = (one + 0.05) / (other + 0.05)
  if (ratio < (large ? 3 : 4.5)) faint.push([e.textContent.trim().slice(0, 40), ratio.toFixed(2)])
}
return faint
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
    wrong = list(ask(AUDIT))
    ask("document.head.insertAdjacentHTML('beforeend', '<style>* { transition: none !important }</style>')")
    for theme in ("light", "dark"):
        ask("document.documentElement.dataset.theme = arguments[0]", theme)
        wrong += [["hard to read", theme, *found] for found in ask(FAINT)]
    wide(hands, 390)
    wrong += [["small for a thumb", *found] for found in ask(SMALL)]
    wide(hands, 360)
    runs_to = ask("return document.documentElement.scrollWidth")
    wide(hands, 1280)
    return wrong + [["wider than a phone", runs_to]] * (runs_to > 360)


def test_every_page_is_named_readable_and_fits_a_phone_in_both_themes(hands):
    sign_in(hands)
    wide(hands, 1280)
    found = {}
    for place in PAGES:
        settled(hands, place)
        found[place] = audit(hands)
    assert {place: wrong for place, wrong in found.items() if wrong} == {}
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
