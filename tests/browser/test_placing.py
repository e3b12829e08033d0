"""Placing by a maker's hands: a taper measured by tape and levelled on rollers, a disc touched and framed."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.test_story import sign_in

pytestmark = pytest.mark.browser


def test_a_device_is_calibrated_and_a_taper_levelled_on_it(hands):
    sign_in(hands)
    hands.go("/shop")
    hands.press("Turning devices")
    hands.see("Long rollers")
    hands.see("would overlap by")
    hands.press("Take ")
    hands.wait(lambda: "would overlap by" not in hands.page(), "it was not taken")
    hands.go("/jobs")
    hands.press("Lantern glasses")
    hands.press("Placing")
    hands.see("Measured: a cone")
    hands.see("Raise the narrow end")
    raised = hands.page().split("Raise the narrow end\n")[1].split("\n")[0]
    hands.type("Supports apart", "45")
    hands.wait(lambda: raised not in hands.page(), "the shim stayed as it was")
    hands.press("Left straight")
    hands.see("Dark: the art left straight")
    hands.type("Up", "4")
    hands.see("reaches past its end")
    hands.type("Up", "55")
    hands.wait(lambda: "reaches past" not in hands.page(), "it was not mended")
    assert [c for c in hands.complaints() if "422" not in c] == []


def test_a_disc_is_touched_and_framed(hands, tmp_path):
    sign_in(hands)
    hands.go("/jobs/2/placing")
    hands.see("Touch the rim")
    for number, (x, y) in enumerate(((205, 150), (122.5, 197.6), (122.5, 102.4)), 1):
        for axis, value in (("x", x), ("y", y)):
            hands.driver.find_element(By.CSS_SELECTOR, f"[aria-label='Point {number}, {axis} in mm']").send_keys(value)
    hands.see("Its middle")
    hands.see("150.0")
    hands.press("Frame, beam off")
    hands.wait(lambda: any(tmp_path.glob("*frame.gcode")), "no file came")
    text = next(tmp_path.glob("*frame.gcode")).read_text()
    assert "M5 S0" in text
    assert " S1" not in text
    last = hands.driver.find_element(By.CSS_SELECTOR, "[aria-label='Point 3, x in mm']")
    last.send_keys(Keys.CONTROL, "a")
    last.send_keys("205.1")
    hands.see("of the way round each")
    assert [c for c in hands.complaints() if "422" not in c] == []
