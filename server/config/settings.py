"""Settings. Everything that differs between places comes from the environment; nothing needs the network."""

import os
import sys
from pathlib import Path
from typing import Any

from django.core.management.utils import get_random_secret_key

ROOT = Path(__file__).resolve().parents[2]
DATA = Path(os.environ.get("JUGATRIX_DATA", ROOT / "var"))
DEMO = os.environ.get("JUGATRIX_DEMO") == "1"
DEBUG = False

ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *os.environ.get("JUGATRIX_HOSTS", "").split()]
WEB_BUILD = Path(os.environ.get("JUGATRIX_WEB", ROOT / "web" / "dist"))


def _secret_key() -> str:
    """Return the key kept beside the data, made on first use; the headless commands need none."""
    kept = DATA / "secret_key"
    try:
        return kept.read_text()
    except OSError:
        key = get_random_secret_key()
        if DATA.is_dir():
            kept.write_text(key)
            kept.chmod(0o600)
        return key


SECRET_KEY = os.environ.get("JUGATRIX_SECRET_KEY") or _secret_key()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "server.jobs",
    "server.parts",
    "server.records",
    "server.proving",
    "server.shop",
    "server.solving",
    "server.demo",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "server.config.urls"
WSGI_APPLICATION = "server.config.wsgi.application"

DATABASES: dict[str, dict[str, Any]] = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "jugatrix.sqlite3",
        "ATOMIC_REQUESTS": False,
        # A save is on the disk when it is answered, and a connection stays open for the next.
        "CONN_MAX_AGE": 600,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

USE_TZ = True
TIME_ZONE = "UTC"

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_BUILD
WHITENOISE_INDEX_FILE = False


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Vite writes a hash into the name of everything in assets/."""
    return url.startswith("/assets/")


# A project file may be 4 MB; a little room above that lets the refusal be a sentence of ours.
DATA_UPLOAD_MAX_MEMORY_SIZE = 4_500_000
if sys.argv[1:2] == ["test"]:
    # Slow hashing, and waiting for the disk, are the point of them everywhere else.
    DATABASES["default"]["OPTIONS"]["init_command"] = (
        "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
    )
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "style-src": ["'self'", "'unsafe-inline'"],
        "img-src": ["'self'", "data:"],
        "frame-ancestors": ["'none'"],
        "base-uri": ["'self'"],
    }
}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    # A refused input is an answer, not an incident.
    "loggers": {"django.request": {"level": "ERROR", "handlers": ["console"], "propagate": False}},
}
