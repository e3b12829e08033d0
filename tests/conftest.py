import os

import pytest
from hypothesis import Phase, settings

settings.register_profile("keencoat", deadline=None, max_examples=30, derandomize=True)
settings.register_profile(
    "faults", settings.get_profile("keencoat"), phases=[Phase.explicit, Phase.generate]
)  # script/mutants asks only whether a test fails
settings.load_profile(os.environ.get("KEENCOAT_PROFILE", "keencoat"))


@pytest.fixture(scope="session")
def django_db_modify_db_settings(django_db_modify_db_settings_parallel_suffix):
    """A test database says that it is one, so that its logbook may be emptied; each worker has one."""
    from django.conf import settings as django_settings

    options = django_settings.DATABASES["default"].setdefault("OPTIONS", {})
    options["options"] = "-c keencoat.test_database=on"
