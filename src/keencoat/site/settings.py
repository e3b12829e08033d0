"""Settings by environment; every variable starts with KEENCOAT_. Defaults are those of production."""

import os
from datetime import timedelta
from pathlib import Path

from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[3]


def _flag(name: str, default: str) -> bool:
    return os.environ.get(name, default) == "1"


def _needed(name: str) -> str:
    try:
        return os.environ[name]
    except KeyError as error:
        raise ImproperlyConfigured(f"{name} is not set; script/server sets it, see README.") from error


DEBUG = False
SECRET_KEY = _needed("KEENCOAT_SECRET_KEY")
ALLOWED_HOSTS = os.environ.get("KEENCOAT_ALLOWED_HOSTS", "127.0.0.1,localhost").split(",")
DEMO = _flag("KEENCOAT_DEMO", "0")
HTTPS = _flag("KEENCOAT_HTTPS", "1")
PROXIES = int(os.environ.get("KEENCOAT_PROXIES", "0"))
"""How many reverse proxies of one's own stand before this server: whom they name as the client is believed (`gate`)."""
# What a request says of itself is believed there or nowhere.
NINJA_NUM_PROXIES = 0

INSTALLED_APPS = [
    "django.contrib.admin",
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "axes",
    "ninja",
    "procrastinate.contrib.django",
    "keencoat.site",
    "keencoat.shop",
    "keencoat.logbook",
    "keencoat.jobs",
]
MIDDLEWARE = [
    "keencoat.site.middleware.api_problems",
    "keencoat.site.build.name_build",
    "django.middleware.security.SecurityMiddleware",
    # What whitenoise sends itself passes only what stands above it.
    "keencoat.site.middleware.content_policy",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "axes.middleware.AxesMiddleware",
    "keencoat.site.guessing.slow_guessing",
    "keencoat.site.writing.whole_writes",
    "keencoat.site.middleware.keep_answers",
]
ROOT_URLCONF = "keencoat.site.urls"
WSGI_APPLICATION = "keencoat.site.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ]
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": os.environ.get("KEENCOAT_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("KEENCOAT_DB_PORT", "5432"),
        "NAME": os.environ.get("KEENCOAT_DB_NAME", "keencoat"),
        "USER": os.environ.get("KEENCOAT_DB_USER", "keencoat"),
        "PASSWORD": os.environ.get("KEENCOAT_DB_PASSWORD", ""),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"connect_timeout": 4},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}"}
    for name in ("UserAttributeSimilarityValidator", "MinimumLengthValidator", "CommonPasswordValidator")
]

AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
# Ten wrong passwords in a quarter of an hour for one account from one address, and that address waits with it; also in
# the admin. Nobody locks others out: not by their name, nor for all who share a proxy (`site/guessing.py` slows those).
AXES_FAILURE_LIMIT = 10
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_LOCKOUT_CALLABLE = "keencoat.site.guessing.locked_out"
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"

WEB_DIST = ROOT / "web" / "dist"
STATIC_URL = "/static/"
STATIC_ROOT = Path(os.environ.get("KEENCOAT_STATIC_ROOT", ROOT / ".local" / "static"))
SHARED_ROOT = Path(os.environ["KEENCOAT_SHARED_ROOT"]) if "KEENCOAT_SHARED_ROOT" in os.environ else None
"""Where web processes find what others of them have worked out; nobody else may write there."""
STATICFILES_DIRS = [("app", WEB_DIST)] if WEB_DIST.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000

SECURE_SSL_REDIRECT = HTTPS
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = HTTPS
SECURE_HSTS_PRELOAD = HTTPS
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
SESSION_COOKIE_NAME = "keencoat_session"
CSRF_COOKIE_NAME = "keencoat_csrf"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
