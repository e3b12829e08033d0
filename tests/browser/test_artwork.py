"""Artwork by a maker's hands: chosen, moved, seen three ways, and taken."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.test_story import sign_in

pytestmark = pytest.mark.browser


def picture(hands):
    """Where the picture of the piece comes from; nothing while it is still being drawn."""
    image = hands.driver.find_element(By.CSS_SELECTOR, "button[aria-label*='put the loupe'] img")
    drawn = hands.driver.execute_script("return arguments[0].complete && arguments[0].naturalWidth > 0", image)
    return image.get_attribute("src") if drawn and "opacity" not in image.get_attribute("class") else ""


def test_artwork_is_brought_placed_seen_and_taken(hands, tmp_path):
    sign_in(hands)
    hands.go("/jobs/1/artwork")
    hands.press("Leaves in five layers")
    hands.see("this piece;")
    hands.wait(lambda: picture(hands), "it was never drawn")
    whole = hands.page().split("about ")[1][:12]
    hands.choose("Group", "layer 1 alone")
    hands.wait(lambda: hands.page().split("about ")[1][:12] != whole, "one layer takes as long as five")
    hands.type("Width", "60")
    hands.see("60.0 × 60.0 mm")
    hands.press("Right edge")
    hands.wait(lambda: hands.field("Right").get_attribute("value") == "30", "it was not moved to the edge")
    hands.see("past the coat")
    hands.wait(lambda: picture(hands), "it was not drawn at the edge")
    burned = picture(hands)
    hands.press("As it is sent")
    hands.wait(lambda: picture(hands) not in ("", burned), "the dots were never shown")
    hands.driver.find_element(By.CSS_SELECTOR, "button[aria-label*='put the loupe']").send_keys(
        Keys.ARROW_RIGHT, Keys.ARROW_UP, Keys.ARROW_UP
    )
    hands.see("1.0 mm right, 2.0 mm up")

    leaf = tmp_path / "moss.csv"
    leaf.write_text("Moss\n" + 88 * "x")
    hands.driver.find_elements(By.CSS_SELECTOR, "input[type=file]")[2].send_keys(str(leaf))
    hands.see("88 letters in one line")
    leaf.write_text("Moss\nFern,shade\n")
    hands.driver.find_elements(By.CSS_SELECTOR, "input[type=file]")[2].send_keys(str(leaf))
    hands.see("On the piece: Moss")
    hands.press("2. Fern")
    hands.see("On the piece: Fern")
    hands.press("G-code")
    hands.wait(lambda: any(tmp_path.glob("*.gcode")), "no file came")
    assert "Fern, setting v1" in next(tmp_path.glob("*.gcode")).read_text()

    hands.type("Or type a text", "Fern house")
    hands.press("Set this text")
    hands.see("mm high")
    hands.choose("Typeface", "single strokes")
    hands.see("No setting is locked for fine strokes")
    hands.type("Words", "Fern Ж")
    hands.see("has no “Ж”")
    assert [c for c in hands.complaints() if "422" not in c] == []
