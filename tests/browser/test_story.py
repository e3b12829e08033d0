"""One maker, one blank piece, from sign-in to run sheet and back through the Logbook, in a real browser."""

import csv
import time

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.apps.conftest import wedge

pytestmark = pytest.mark.browser
KEY = {"faint": "1", "clean": "2", "harsh": "3"}


def sign_in(hands):
    hands.go("/")
    hands.see("demo server")
    hands.press("Sign in")
    hands.see("Next for your hands")


def fetch(hands, path):
    """What the page's own session gets from the API."""
    script = "const done = arguments[1]; fetch(arguments[0]).then(r => r.json()).then(done)"
    return hands.driver.execute_async_script(script, path)


def test_from_blank_piece_to_run_sheet_and_back_through_the_logbook(hands, tmp_path):
    sign_in(hands)
    for words in ("Rate grid G-01", "coat 1 of 2", "Run the batch", "Draw the test grid"):
        hands.see(words)

    hands.press("New job")
    hands.type("Name of the job", "Seed drawer fronts")
    hands.choose("Made of", "PVC")
    hands.see("chlorine")
    assert not hands.driver.find_element(By.XPATH, "//button[contains(., 'Make the job')]").is_enabled()
    hands.choose("Made of", "clear float glass")
    hands.see("goes straight through")
    hands.choose("Process", "frost glass")
    hands.choose("Coat", "matt black spray")
    hands.type("Width", "-5")
    hands.press("Make the job")
    hands.see("width_mm is -5")
    assert hands.field("Name of the job").get_attribute("value") == "Seed drawer fronts"
    hands.type("Width", 100)
    hands.type("Height", 80)
    hands.type("Coats", 1)
    hands.press("Make the job")

    hands.press("Mixed: record the lot")
    hands.see("Mixed another lot")
    hands.press("Put it on")
    hands.see("Put on coat 1")
    hands.press("Coat 1 is on")
    hands.press("Watch them dry")
    hands.see("until it may be burned")
    job_id = int(hands.driver.current_url.split("/jobs/")[1].split("/")[0])
    before = fetch(hands, f"/api/jobs/{job_id}")["drying"]["next_at"]
    hands.driver.refresh()
    hands.see("until it may be burned")
    assert fetch(hands, f"/api/jobs/{job_id}")["drying"]["next_at"] == before

    hands.press("Meanwhile, draw the grid")
    hands.see("Most likely 2 test pieces")
    hands.choose("What they vary", "energy crossed with dwell")
    hands.see("12 cells")
    hands.type("Patch", 40)
    hands.see("Take smaller cells or gaps")
    hands.field("Patch").send_keys(Keys.BACKSPACE, Keys.BACKSPACE)
    hands.see("12 cells")
    hands.press("Draw this grid")
    hands.see("Burn it on a spare")
    hands.press("It is burned")
    hands.see("the coat is not dry")
    hands.go(f"/jobs/{job_id}/coat/apply")
    hands.press("take back")
    hands.see("Put on coat 1")
    stamp_yesterday(hands, job_id)
    hands.go(f"/jobs/{job_id}/grid")
    hands.see("10 of 10 pieces should be dry")
    hands.press("CSV")
    hands.press("It is burned")

    hands.see("12 to rate")
    grid = fetch(hands, f"/api/jobs/{job_id}/grids")[0]
    for cell in grid["cells"][:7]:
        hands.wait(lambda code=cell["code"]: hands.text_of("p[aria-live]") == code, f"not at {cell['code']}")
        hands.keys(KEY[wedge(cell)])
    hands.see("5 to rate")
    hands.keys("z")
    hands.see("6 to rate")
    hands.driver.refresh()
    hands.see("6 to rate")
    rated = rated_csv(tmp_path, grid)
    hands.driver.find_element(By.CSS_SELECTOR, "input[accept*=csv]").send_keys(str(spoiled(rated)))
    hands.see("no cell “Q7”")
    hands.driver.find_element(By.CSS_SELECTOR, "input[accept*=csv]").send_keys(str(rated))
    hands.see("all rated")
    hands.press("heard snapping")
    hands.wait(lambda: fetch(hands, f"/api/jobs/{job_id}/grids")[0]["cells"][0] is not None, "no grid")
    hands.press("To the window")

    hands.see("Clean on about")
    hands.see("Other ways to choose")
    hands.see("in 100 pieces lost")
    recommended = hands.text_of("main section p.font-mono")
    plane = hands.driver.find_element(By.CSS_SELECTOR, "svg[role=application]")
    plane.send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN, Keys.ARROW_LEFT)
    hands.see("Your own pick")
    hands.wait(lambda: hands.text_of("main section p.font-mono") != recommended, "the reading did not move")
    plane.send_keys("r")
    hands.wait(lambda: "Your own pick" not in hands.page(), "the pick did not go back")
    hands.press("Lock")
    hands.see("Run sheet version 1")
    for words in ("450 nm", "Extraction is running", "J/mm²", "Seed drawer fronts", "Guidance, never clearance"):
        hands.see(words)

    hands.press("Logbook")
    hands.see("Seed drawer fronts, G-01")
    hands.press("Day by day")
    hands.see("Setting locked, version 1")
    hands.type("Words", "seed float")
    hands.choose("Coat", "matt black spray")
    hands.wait(lambda: "Trail markers" not in hands.page(), "the search did not narrow")
    hands.press("Setting locked, version 1")
    hands.see("Run sheet version 1")
    unexpected = [c for c in hands.complaints() if "422" not in c and "409" not in c]
    assert unexpected == []


def stamp_yesterday(hands, job_id):
    """The clock cannot be waited for: the coat went on yesterday, which the API allows to say."""
    script = """
      const done = arguments[2]
      const token = document.cookie.match(/keencoat_csrf=([^;]+)/)[1]
      const init = {method: 'POST', body: arguments[1],
                    headers: {'Content-Type': 'application/json', 'X-CSRFToken': token, 'Idempotency-Key': 'yesterday'}}
      fetch(arguments[0], init).then(r => done(r.status))
    """
    at = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime(time.time() - 86_400))
    body = f'{{"number": 1, "at": "{at}"}}'
    assert hands.driver.execute_async_script(script, f"/api/jobs/{job_id}/coat/stamps", body) == 200


def rated_csv(tmp_path, grid):
    """The downloaded CSV, filled in as at the bench."""
    name = f"keencoat-job{grid['job_id']}-{grid['label']}.csv"
    path = tmp_path / name
    for _ in range(100):
        if path.exists():
            break
        time.sleep(0.2)
    rows = list(csv.DictReader(path.open(newline="", encoding="utf-8")))
    cells = {c["code"]: c for c in grid["cells"]}
    for row in rows:
        row["rating"] = wedge(cells[row["code"]])
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
    return path


def spoiled(path):
    bad = path.with_name("spoiled.csv")
    bad.write_text(path.read_text(encoding="utf-8").replace("A1,", "Q7,", 1), encoding="utf-8")
    return bad
