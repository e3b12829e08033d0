"""Last month's good setting found and carried to another machine, a card from elsewhere, and what a piece costs."""

import base64
import json

import pytest
from selenium.webdriver.common.by import By

from tests.browser.test_story import sign_in

pytestmark = pytest.mark.browser


def test_a_good_setting_is_found_and_carried_to_the_other_machine(hands):
    sign_in(hands)
    hands.press("Logbook")
    hands.see("What went wrong here")
    hands.see("coat left")
    hands.press("Something went wrong")
    hands.wait(lambda: "outcome=failed" in hands.driver.current_url, "the address does not say it")
    hands.choose("Substrate", "clear float glass")
    hands.wait(lambda: "Light signs" not in hands.page(), "the search did not narrow")
    hands.see("11 of 12 clean")
    # The same view by its address.
    address = hands.driver.current_url
    hands.driver.get(address)
    hands.see("Cloche labels, spring frames")
    assert "Light signs" not in hands.page()
    hands.press("Show everything")
    hands.see("Light signs")
    for burn in ("Light signs, orchid house, run", "Cloche labels, spring frames, run"):
        xpath = f"//input[@aria-label='Compare {burn}']"
        hands.driver.find_element(By.XPATH, xpath).click()
    hands.press("Lay 2 side by side")
    hands.see("What differed")
    hands.see("cleanest of these")
    hands.see("Their windows")
    hands.press("Settings shelf")
    hands.see("17 of 18 pieces clean")
    hands.choose("For this machine", "Little blue")
    hands.choose("Substrate", "clear float glass")
    hands.wait(lambda: "Light signs" not in hands.page(), "the shelf did not narrow")
    hands.press("Use it here")
    hands.press("Make the job")
    hands.see("Cloche labels, spring frames, carried over")
    hands.see("Little blue, bench corner")
    hands.see("G-01, drawn")
    assert hands.complaints() == []


def test_a_card_of_another_workshop_begins_a_job_with_its_doubt(hands, tmp_path):
    sign_in(hands)
    hands.go("/logbook/shelf")
    hands.see("Nursery by the weir")
    card = {
        "uid": "b-7", "workshop": "Kiln by the ford", "title": "Pots", "substrate": "white_glazed_tile",
        "process": "fuse", "art": "fills", "coat": "tio2_glue", "coat_words": "TiO2 in glue", "coats": 2,
        "beam": "blue", "rated_w": 20, "spot_mm": 0.1, "power_pct": 60, "speed_mm_s": 70, "interval_mm": 0.1,
        "passes": 1, "evidence": "proven", "pieces_clean": 8, "pieces_seen": 8,
    }  # fmt: skip
    file = tmp_path / "cards.json"
    document = {"format": "keencoat-setting-cards", "version": 1, "cards": [card | {"power_pct": 160}]}
    file.write_text(json.dumps(document))
    hands.driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(file))
    hands.see("Card 1, power_pct")
    document["cards"] = [card]
    file.write_text(json.dumps(document))
    hands.driver.find_element(By.CSS_SELECTOR, "input[type=file]").send_keys(str(file))
    hands.see("1 new card")
    hands.type("Words", "ford")
    hands.wait(lambda: "Nursery" not in hands.page(), "the shelf did not narrow")
    hands.press("Use it here")
    hands.see("From a card of Kiln by the ford")
    hands.type("Name", "Pots like theirs")
    hands.press("Make the job")
    hands.see("Pots like theirs")
    hands.press("Window")
    hands.see("Begun from a card of Kiln by the ford")
    hands.see("A hint, no fact")
    assert [c for c in hands.complaints() if "422" not in c] == []


def test_a_good_piece_is_reckoned_and_priced(hands):
    sign_in(hands)
    hands.go("/shop")
    hands.type("Hands, an hour", "30")
    hands.press("Keep the rates")
    hands.wait(lambda: "Keep the rates" in hands.page(), "it is not kept yet")
    hands.go("/jobs/1/cost")
    hands.see("an hour of hands earns")
    before = hands.page().split("sells for\n")[1].split("\n")[0]
    hands.type("Blank", "9")
    hands.press("Reckon")
    hands.wait(lambda: before not in hands.page(), "the price stayed")
    hands.type("Margin", "95")
    hands.press("Reckon")
    hands.see("They must leave at least")
    hands.choose("Price from", "an hour’s wish")
    hands.type("An hour should earn", "40")
    hands.press("Reckon")
    hands.see("an hour of hands earns 40.0")
    hands.type("A piece, before tax", "20.50")
    hands.press("Write a quote for 6")
    hands.see("6 × 20.50 € + 23.37 € tax = 146.37 €")
    hands.press("Withdraw …")
    hands.press("Keep it")
    assert "withdrawn" not in hands.page()
    hands.press("Withdraw …")
    hands.press("Withdraw Q ")
    hands.see("withdrawn")
    assert hands.complaints() == []


def test_the_whole_workshop_goes_out_and_is_brought_in_again(hands, tmp_path):
    sign_in(hands)
    hands.go("/shop")
    hands.see("Take everything out")
    packed = hands.driver.execute_async_script(
        "const done = arguments[0]; fetch('/api/workshop.zip').then((r) => r.blob()).then((b) => {"
        "const read = new FileReader(); read.onload = () => done(read.result.split(',')[1]); read.readAsDataURL(b) })"
    )
    file = tmp_path / "garden.zip"
    file.write_bytes(b"PK no zip")
    pick = "//label[contains(., 'Bring an archive in')]/input"
    hands.driver.find_element(By.XPATH, pick).send_keys(str(file))
    hands.see("This is no ZIP")
    file.write_bytes(base64.b64decode(packed))
    hands.driver.find_element(By.XPATH, pick).send_keys(str(file))
    hands.see("nothing new; here already")
    assert [c for c in hands.complaints() if "422" not in c] == []
