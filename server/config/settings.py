"""Settings of the server. OAKEN_DATA names the folder of the database and the secret key (default: var/)."""

import os
import secrets
import warnings
from datetime import timedelta
from pathlib import Path

from django.core.exceptions import ImproperlyConfigured
from oaken.basis.limits import most

from config.names import names_to_answer_to

ROOT = Path(__file__).resolve().parent.parent.parent
# what this process writes (database, key, copies, log) is for its owner alone
os.umask(0o077)
DATA = Path(os.environ.get("OAKEN_DATA") or ROOT / "var")
WEB = ROOT / "web" / "dist"

DEBUG = os.environ.get("OAKEN_DEBUG") == "1"

# where this server listens, and what it is called by: see docs/serving.md; `manage.py serve` sets these
HOST = os.environ.get("OAKEN_HOST", "127.0.0.1")
TLS = os.environ.get("OAKEN_TLS", "")
ORIGIN = os.environ.get("OAKEN_ORIGIN", "")
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *names_to_answer_to(HOST, ORIGIN)]
CSRF_TRUSTED_ORIGINS = [ORIGIN] if ORIGIN else []
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = bool(TLS) or ORIGIN.startswith("https://")
if ORIGIN:
    # a proxy of the house stands in front and says so; nobody else reaches this server
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    USE_X_FORWARDED_HOST = True


SHORTEST_KEY = 50


def _secret_key() -> str:
    """The key kept in the data folder, made at the first start: written whole beside its place, then put there, so that
    two starts at once agree and a start that is cut off leaves no half key."""
    DATA.mkdir(parents=True, exist_ok=True, mode=0o700)
    keeper = DATA / "secret-key"
    if not keeper.exists():
        beside = DATA / f"secret-key.{secrets.token_hex(4)}"
        with beside.open("x", encoding="utf-8") as file:
            file.write(secrets.token_urlsafe(50))
            file.flush()
            os.fsync(file.fileno())
        try:
            os.link(beside, keeper)
        except FileExistsError:
            pass  # another start was first: its key is the key
        finally:
            beside.unlink()
    key = keeper.read_text(encoding="utf-8")
    if len(key) < SHORTEST_KEY:
        raise ImproperlyConfigured(f"{keeper} holds no whole key: remove it, and everybody signs in anew")
    return key


def _only_for_its_owner() -> None:
    """Earlier versions left the database readable by others."""
    for kept in (path for name in ("oaken.sqlite3*", "secret-key*", "oaken.log*") for path in DATA.glob(name)):
        kept.chmod(0o600)


SECRET_KEY = _secret_key()
_only_for_its_owner()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "config",
    "studio",
    "people",
    "planning",
    "logbook",
    "running",
]
MIDDLEWARE = [
    # before whatever answers by itself: headers are on every answer, the start page's included
    "config.middleware.Numbered",
    "django.middleware.security.SecurityMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "config.middleware.JsonWritesOnly",
    "config.middleware.NotTooLarge",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "oaken.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 5,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
    }
}
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"django.contrib.auth.password_validation.{rule}"}
    for rule in (
        "UserAttributeSimilarityValidator",
        "MinimumLengthValidator",
        "CommonPasswordValidator",
        "NumericPasswordValidator",
    )
]
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# a name waits at the address from which it was tried: others in the studio, and the same name elsewhere, go on
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_FAILURE_LIMIT = most("signing_in.tries")
AXES_COOLOFF_TIME = timedelta(seconds=most("signing_in.wait_s"))
AXES_RESET_ON_SUCCESS = True
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_HANDLER = "axes.handlers.cache.AxesCacheHandler"
# one process serves, so its memory knows all tries; the package warns because several processes would not share it
SILENCED_SYSTEM_CHECKS = ["axes.W001"]
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.locmem.LocMemCache",
        "OPTIONS": {"MAX_ENTRIES": most("signing_in.names")},
    }
}
AXES_LOCKOUT_CALLABLE = "config.middleware.has_to_wait"
AXES_VERBOSE = False
AXES_DISABLE_ACCESS_LOG = True

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "font-src": ["'self'", "data:"],
        "connect-src": ["'self'"],
        "manifest-src": ["'self'"],
        "worker-src": ["'self'"],
        "base-uri": ["'none'"],
        "form-action": ["'self'"],
        "frame-ancestors": ["'none'"],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
SECURE_CONTENT_TYPE_NOSNIFF = True

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {
        "places": {"()": "config.logs.WithoutValues", "format": "{asctime} {levelname} {name}: {message}", "style": "{"}
    },
    "handlers": {
        "console": {"class": "logging.StreamHandler", "formatter": "places"},
        "file": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": DATA / "oaken.log",
            "maxBytes": 1_000_000,
            "backupCount": 3,
            "delay": True,
            "formatter": "places",
        },
    },
    "loggers": {
        "oaken": {"handlers": ["console", "file"], "level": "INFO", "propagate": True},
        "planning": {"handlers": ["console", "file"], "level": "INFO", "propagate": True},
        "django.request": {"handlers": ["file"], "level": "ERROR", "propagate": False},
        "axes": {"level": "ERROR"},
    },
}

SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_HTTPONLY = True
CSRF_COOKIE_SAMESITE = "Lax"

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
# files are read as they come, in pieces (studio/files.py); this is for what is read whole
DATA_UPLOAD_MAX_MEMORY_SIZE = most("request.bytes")

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB
WHITENOISE_INDEX_FILE = True
# files of the build carry their content in their name; all others are asked for anew, the service worker first of all
WHITENOISE_MAX_AGE = 0
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Whether a file never changes under its address."""
    return url.startswith("/assets/")


# the files are few and small; reading them in the worker's thread is what WhiteNoise does everywhere
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
