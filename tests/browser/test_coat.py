"""A coat proven in a real browser: chosen, mixed, put on in two runs, looked at, photographed at full size."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat
from keencoat.bench.filmfield import CoatFault
from tests.browser.test_story import sign_in

pytestmark = pytest.mark.browser


def pick_file(hands, words, path):
    """Give a file to the picker whose words these are."""
    xpath = f"//label[contains(normalize-space(.), '{words}')]/input[@type='file']"
    field = hands.wait(lambda: hands.driver.find_elements(By.XPATH, xpath), f"no picker “{words}”")[0]
    field.send_keys(str(path))


def test_a_coat_is_chosen_mixed_dried_and_proven(hands, tmp_path):
    sign_in(hands)
    hands.press("New job")
    hands.type("Name of the job", "Cold frame panes")
    hands.choose("Made of", "clear float glass")
    hands.choose("Process", "frost glass")
    hands.type("Pieces", 6)
    hands.press("Make the job")

    hands.see("Mixed: record the lot")
    hands.press("Choose")
    for words in ("What won't work", "layout dye, blue", "Makers disagree", "Your log:"):
        hands.see(words)
    hands.press("Go with this")
    hands.see("1 coat, foam brush")

    hands.press("Mix")
    hands.type("Jar", 10)
    hands.see("one jar")
    hands.type("Note on the lot", "stirred")
    hands.press("Mixed: record the lot")
    hands.see("stirred")
    hands.press("Put it on")

    hands.type("to piece", 4)
    hands.press("Coat 1 is on")
    hands.see("Where the pieces stand")
    hands.see("pieces 1 to 4")
    hands.driver.refresh()
    hands.see("Where the pieces stand")
    hands.press("Dry")
    hands.see("Drying line")
    hands.press("It is dry")
    hands.see("from looks")
    hands.wait(lambda: "from looks\n1" in hands.page(), "the look was not counted")

    setup = ShotSetup(Lamp.BEHIND, 94, 94, photo_px=(4000, 3000), mean_film_um=32)
    shot = shoot_coat(CoatFault.POOLED, setup, 4242)
    coated, junk = tmp_path / "coat.jpg", tmp_path / "notes.jpg"
    coated.write_bytes(shot.coated)
    junk.write_text("only words")
    hands.press("Prove")
    hands.see("No photo yet")
    pick_file(hands, "Photo of the coat", junk)
    hands.see("not a photo that can be read")
    pick_file(hands, "Photo of the coat", coated)
    hands.see("Pooled:")
    hands.see("instead of your usual 12 %")
    hands.press("Mark the corners by hand")
    first = hands.wait(
        lambda: hands.driver.find_elements(By.CSS_SELECTOR, "button[aria-label^='upper left corner']"), "no handle"
    )[0]
    before = first.get_attribute("aria-label")
    first.send_keys(Keys.SHIFT + Keys.ARROW_LEFT)
    hands.wait(lambda: first.get_attribute("aria-label") != before, "the arrow keys move nothing")
    ActionChains(hands.driver).drag_and_drop_by_offset(first, 6, 0).perform()
    hands.press("Measure with these")
    hands.see("Pooled:")
    hands.go("/")
    hands.see("Cold frame panes")
    unexpected = [c for c in hands.complaints() if "422" not in c]
    assert unexpected == []
