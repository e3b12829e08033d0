"""A real web process and a real worker on a database of their own, and headless Chromium."""

import os
import socket
import subprocess
import sys
import time
import urllib.request
from contextlib import suppress

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

from tests.browser.hands import Hands

FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-dev-shm-usage",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--window-size=1280,800",
)  # fmt: skip


@pytest.fixture(scope="session")
def server(tmp_path_factory):
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    static = tmp_path_factory.mktemp("static")
    env = os.environ | {
        "KEENCOAT_DB_NAME": f"keencoat_browser_{os.getpid()}",
        "KEENCOAT_DEMO": "1",
        "KEENCOAT_HTTPS": "0",
        "KEENCOAT_STATIC_ROOT": str(static),
        "KEENCOAT_PORT": str(port),
    }
    subprocess.run([sys.executable, "-m", "django", "prepare"], env=env, check=True)
    process = subprocess.Popen([sys.executable, "-m", "keencoat.site.serve"], env=env)
    worker = subprocess.Popen([sys.executable, "-m", "django", "work"], env=env)
    address = f"http://127.0.0.1:{port}"
    for _ in range(600):
        with suppress(OSError):
            urllib.request.urlopen(f"{address}/api/session", timeout=60).close()
            break
        time.sleep(0.2)
    yield address
    for running in (worker, process):
        running.terminate()
        running.wait()


def open_chromium(options=None):
    """Headless Chromium as Debian has it."""
    options = options or Options()
    for flag in FLAGS:
        options.add_argument(flag)
    return webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))


@pytest.fixture
def hands(server, tmp_path):
    options = Options()
    options.add_argument(f"--user-data-dir={tmp_path / 'profile'}")
    options.add_experimental_option("prefs", {"download.default_directory": str(tmp_path)})
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = open_chromium(options)
    yield Hands(driver, server)
    driver.quit()
