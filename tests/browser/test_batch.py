"""A batch on a phone in a real browser: one large button, a closed tab, a lost piece burned anew, the gate."""

import pytest
from selenium.webdriver.common.by import By

from tests.browser.test_story import fetch, sign_in

pytestmark = pytest.mark.browser


def test_a_batch_is_run_on_the_phone(hands):
    sign_in(hands)
    job = next(j for j in fetch(hands, "/api/jobs?put_away=false&skip=0") if j["name"].startswith("Light signs"))
    metrics = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
    hands.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    try:
        run_batch(hands, job["id"])
    finally:
        hands.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def run_batch(hands, job_id):
    hands.go(f"/jobs/{job_id}/run")
    hands.see("Batch 1, 3 of 6 looked at")
    hands.see("5 Iris sibirica")
    explain(hands)
    for words in ("It lies in place", "The frame stays on the coat"):
        hands.press(words)
    hands.see("G-code of this turn")
    hands.press("It burns")
    hands.see("Nobody leaves a burning piece")
    # A tab that was closed loses nothing.
    hands.driver.refresh()
    hands.see("Nobody leaves a burning piece")
    hands.press("Stopped: it is lost")
    hands.press("5 Iris sibirica")
    hands.press("Burn anew on a spare")
    hands.see("5, anew")
    hands.press("Pass over")
    hands.see("passed over")
    for words in ("It lies in place", "The frame stays on the coat", "It burns", "It is done"):
        hands.press(words)
    for number in (4, 5):
        wash(hands, number)
    hands.see("All had their turn")
    hands.press("Close the batch")
    hands.see("Batches before")
    hands.see("to look at first")
    begin = hands.driver.find_element(By.XPATH, "//button[contains(., 'to look at first')]")
    assert not begin.is_enabled()
    for box in hands.driver.find_elements(By.CSS_SELECTOR, "section[aria-label='The next batch'] [type=checkbox]"):
        hands.driver.execute_script("arguments[0].click()", box)
    hands.see("1 to look at first")
    hands.driver.execute_script("arguments[0].click()", hands.driver.find_element(By.CSS_SELECTOR, "[type=radio]"))
    hands.press("Begin the batch")
    hands.see("Batch 2, 0 of")
    batches = fetch(hands, f"/api/jobs/{job_id}/batches")
    assert [(b["number"], b["clean"], b["harsh"], b["lost"]) for b in batches][1] == (1, 4, 1, 2)
    run = fetch(hands, f"/api/jobs/{job_id}/runs")[-1]
    assert (run["clean"], run["harsh"], run["note"]) == (4, 1, "batch 1")


def explain(hands):
    """The piece with pinholes: its causes, and the one test that parts them."""
    hands.press("3 Dryopteris filix-mas")
    hands.see("tells the likeliest causes apart")
    asked = hands.driver.find_element(By.CSS_SELECTOR, "[aria-label='One test'] button")
    hands.driver.execute_script("arguments[0].click()", asked)
    hands.see("Take back")
    hands.press("Take back")
    hands.wait(lambda: "Take back" not in hands.page(), "the answer was never taken back")
    hands.press("Close")


def wash(hands, number):
    """Wash the piece of that number, warm or not, and find it clean."""
    name = {4: "4 Galanthus nivalis", 5: "5 Iris sibirica"}[number]
    hands.wait(lambda: any(words in hands.page() for words in (f"Wash {name}", "Washed")), f"{name} never cooled")
    for button in hands.driver.find_elements(By.XPATH, f"//button[starts-with(normalize-space(.), 'Wash {name}')]"):
        button.click()
    hands.wait(lambda: "Washed" in hands.page(), "no button to wash")
    hands.press("Washed")
    hands.see(f"Look at {name}")
    hands.press("clean")
    hands.wait(lambda: f"Look at {name}" not in hands.page(), "the look was never written")
