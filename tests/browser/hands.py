"""What a person does with a page: read, press, type."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

PATIENCE_S = 60


class Hands:
    """Finds things by what a person sees: words of buttons and links, labels of fields."""

    def __init__(self, driver, address):
        self.driver = driver
        self.address = address

    def go(self, path):
        self.driver.get(self.address + path)

    def wait(self, condition, what):
        return WebDriverWait(self.driver, PATIENCE_S).until(
            lambda _: condition(), f"{what}; the page says: {self.page()[:900]}"
        )

    def page(self):
        return self.driver.find_element(By.TAG_NAME, "body").text

    def see(self, words):
        self.wait(lambda: words.lower() in self.page().lower(), f"never saw “{words}”")

    def _shown(self, xpath):
        found = [e for e in self.driver.find_elements(By.XPATH, xpath) if e.is_displayed() and e.is_enabled()]
        return found[0] if found else None

    def press(self, words):
        xpath = f"//*[self::button or self::a][contains(normalize-space(.), {_quote(words)})]"
        element = self.wait(lambda: self._shown(xpath), f"no button or link “{words}”")
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def field(self, label):
        xpath = f"//label[starts-with(normalize-space(.), {_quote(label)})]"
        found = self.wait(lambda: self._shown(xpath), f"no field “{label}”")
        return self.driver.find_element(By.ID, found.get_attribute("for"))

    def type(self, label, text):
        field = self.field(label)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(str(text))

    def choose(self, label, option):
        def pick():
            select = Select(self.field(label))
            texts = [o.text for o in select.options if option in o.text]
            if texts:
                select.select_by_visible_text(texts[0])
            return bool(texts)

        self.wait(pick, f"no option “{option}” in “{label}”")

    def keys(self, *keys):
        ActionChains(self.driver).send_keys(*keys).perform()

    def text_of(self, css):
        return self.driver.find_element(By.CSS_SELECTOR, css).text

    def complaints(self):
        return [e["message"] for e in self.driver.get_log("browser") if e["level"] == "SEVERE"]


def _quote(words):
    return f'"{words}"'
