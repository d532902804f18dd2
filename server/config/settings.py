"""Settings. Everything that differs between places is a `Place`; nothing needs the network."""

import os
import sys
import tempfile
from datetime import timedelta
from pathlib import Path
from typing import Any

from csp.constants import NONCE
from django.core.management.utils import get_random_secret_key

from server.place import ROOT, BadPlace, data_folder, place

DATA = data_folder()
STUDIES = DATA / "studies"  # a folder for each job
try:
    PLACE = place()
except BadPlace as bad:
    sys.exit(f"Jugatrix: {bad}")
DEMO = os.environ.get("JUGATRIX_DEMO") == "1"
SERVING = os.environ.get("JUGATRIX_SERVING") == "1"  # a shop's own, not a demo and not a test
STAND_INS = PLACE.stand_ins and not (SERVING and "JUGATRIX_STAND_INS" not in os.environ)
# Long work goes to a process of its own where something is served; there, it is done on the spot.
LONG_WORK_APART = os.environ.get("JUGATRIX_SERVED") == "1" and "JUGATRIX_LONG_WORK_HERE" not in os.environ
# So many geometries, as they may truly be, stand behind every interval; browser tests look at fewer.
INTERVAL_GEOMETRIES = 2000
DEBUG = False

ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *PLACE.reached_by]
WEB_BUILD = Path(os.environ.get("JUGATRIX_WEB", ROOT / "web" / "dist"))


def _secret_key() -> str:
    """Return the key kept beside the data, made on first use; the headless commands need none.

    A file that a full disk or a pulled plug left empty is none. It is written whole, and never readable to others.
    """
    kept = DATA / "secret_key"
    try:
        key = kept.read_text().strip()
    except OSError:
        key = ""
    if key:
        return key
    key = get_random_secret_key()
    if DATA.is_dir() and os.access(DATA, os.W_OK):
        try:
            with tempfile.NamedTemporaryFile("w", dir=DATA, prefix="secret_key.", delete=False) as file:
                file.write(key)
                file.flush()
                os.fsync(file.fileno())
            os.replace(file.name, kept)
        except OSError:
            Path(file.name).unlink(missing_ok=True)  # no room: this key holds while the program runs
    return key


SECRET_KEY = os.environ.get("JUGATRIX_SECRET_KEY") or _secret_key()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "server.accounts",
    "server.running",
    "server.keeping",
    "server.publishing",
    "server.jobs",
    "server.parts",
    "server.records",
    "server.proving",
    "server.shop",
    "server.solving",
    "server.study",
    "server.steps",
    "server.demo",
]
MIDDLEWARE = [
    "server.running.log.RequestLog",
    "server.accounts.who_asks.KnownProxy",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "server.running.files.BuiltFiles",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_CLIENT_IP_CALLABLE = "server.accounts.who_asks.client_address"
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_CALLABLE = "server.accounts.tries.locked_out"
AXES_VERBOSE = False
AXES_DISABLE_ACCESS_LOG = True
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{name}", "OPTIONS": options}
    for name, options in (
        ("UserAttributeSimilarityValidator", {}),
        ("MinimumLengthValidator", {"min_length": 10}),
        ("CommonPasswordValidator", {}),
        ("NumericPasswordValidator", {}),
    )
]
APPEND_SLASH = False
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
WHITENOISE_ALLOW_ALL_ORIGINS = False


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Vite writes a hash into the name of everything in assets/."""
    return url.startswith("/assets/")


# A project file may be 4 MB, and two are compared in one question; a little room lets the refusal be a sentence of ours.
DATA_UPLOAD_MAX_MEMORY_SIZE = 8_500_000
if sys.argv[1:2] == ["test"]:
    # That migrations lead to these tables is checked by itself; slow hashing, and waiting for the disk, are the point of
    # them everywhere else.
    DATABASES["default"]["TEST"]["MIGRATE"] = False
    DATABASES["default"]["OPTIONS"]["init_command"] = (
        "PRAGMA journal_mode=WAL; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
    )
    PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
CSRF_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = PLACE.secure
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365 if PLACE.secure else 0
SECURE_REDIRECT_EXEMPT = [r"^health$"]
if PLACE.proxy:
    # Only what the proxy at a known address says: `who_asks` drops the header of anybody else.
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
if PLACE.secure and not DEMO:
    # A shop's own names have no other hosts under them, and are on no list of browsers.
    SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
SECURE_CONTENT_TYPE_NOSNIFF = True
X_FRAME_OPTIONS = "DENY"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'self'"],
        "style-src": ["'self'", NONCE],
        "img-src": ["'self'", "data:", "blob:"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
        "base-uri": ["'self'"],
    }
}
LOGGING: dict[str, Any] = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"()": "server.running.log.Lines"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        # A refused input is an answer, not an incident; a failure is told once, with its request, by ours.
        "django.request": {"level": "CRITICAL"},
        "jugatrix": {"level": "INFO" if SERVING else "WARNING"},
        "axes": {"level": "ERROR"},
    },
}
if SERVING:
    LOGGING["handlers"]["file"] = {
        "class": "server.running.log.ShopLog", "formatter": "line", "filename": str(DATA / "logs" / "jugatrix.log"),
    }  # fmt: skip
    LOGGING["root"]["handlers"] = ["console", "file"]
