"""Two tabs on the same thing, and a part of the interface that cannot be fetched."""

import time

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.test_access import settled
from tests.browser.test_story import sign_in

pytestmark = pytest.mark.browser

# What saves by itself, and a field of it: at an address of the demo workshop.
DRAFTS = [("/jobs/1/artwork", "x_mm", "y_mm"), ("/jobs/1/placing", "mark.width_mm", "mark.height_mm")]


def field(hands, name):
    return hands.wait(
        lambda: next(iter(hands.driver.find_elements("css selector", f"main input[name='{name}']")), None), f"no {name}"
    )


def shown(hands, name):
    return field(hands, name).get_attribute("value")


def put(hands, name, value):
    field(hands, name).send_keys(Keys.CONTROL, "a")
    field(hands, name).send_keys(value, Keys.TAB)


def come_back(hands, tab):
    """Turn to a tab, which asks the server anew as browsers have it do."""
    hands.driver.switch_to.window(tab)
    hands.driver.execute_script("document.dispatchEvent(new Event('visibilitychange', {bubbles: true}))")


@pytest.mark.parametrize(("place", "one", "other"), DRAFTS)
def test_two_tabs_overwrite_nothing_of_each_other(hands, place, one, other):
    sign_in(hands)
    settled(hands, place)
    idle = hands.driver.current_window_handle
    before = shown(hands, one), shown(hands, other)
    hands.driver.switch_to.new_window("tab")
    busy = hands.driver.current_window_handle
    settled(hands, place)
    put(hands, one, "21")
    time.sleep(3)
    # The idle one takes it over and writes nothing back.
    come_back(hands, idle)
    hands.wait(lambda: shown(hands, one) == "21", "the change of the other tab never came")
    time.sleep(2)
    come_back(hands, busy)
    time.sleep(1)
    assert (shown(hands, one), shown(hands, other)) == ("21", before[1])
    # What does not meet is kept from both; where two meet, web/src/chapters/artwork/useArtworkEdit.test.tsx.
    put(hands, one, "22")
    time.sleep(3)
    hands.driver.switch_to.window(idle)
    put(hands, other, "12")
    hands.wait(lambda: (shown(hands, one), shown(hands, other)) == ("22", "12"), "one of two changes was lost")
    for name, value in zip((one, other), before, strict=True):
        put(hands, name, value)
    time.sleep(2)


def test_a_part_that_cannot_be_fetched_leaves_the_way_to_all_others(hands):
    sign_in(hands)
    settled(hands, "/jobs")
    hands.driver.execute_cdp_cmd("Network.enable", {})
    hands.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*PracticePage*"]})
    hands.press("Practice")
    hands.see("This page could not be shown")
    assert hands.driver.title == "Something went wrong – Keen Coat"
    hands.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": []})
    hands.press("Shop")
    hands.see("Take everything out")
    assert hands.driver.switch_to.active_element.text == "Shop"
