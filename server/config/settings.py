"""Settings of the server. OAKEN_DATA names the folder of the database and the secret key (default: var/)."""

import os
import secrets
import warnings
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent.parent
DATA = Path(os.environ.get("OAKEN_DATA", ROOT / "var"))
WEB = ROOT / "web" / "dist"

DEBUG = os.environ.get("OAKEN_DEBUG") == "1"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]


def _secret_key() -> str:
    """The key kept in the data folder, made at the first start."""
    DATA.mkdir(parents=True, exist_ok=True)
    keeper = DATA / "secret-key"
    if not keeper.exists():
        keeper.write_text(secrets.token_urlsafe(50), encoding="utf-8")
        keeper.chmod(0o600)
    return keeper.read_text(encoding="utf-8")


SECRET_KEY = _secret_key()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "config",
    "studio",
    "people",
    "planning",
    "logbook",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "config.middleware.JsonWritesOnly",
    "config.middleware.NotTooLarge",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
ASGI_APPLICATION = "config.asgi.application"

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "oaken.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA foreign_keys=ON;",
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
SESSION_COOKIE_AGE = 14 * 24 * 3600
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_HTTPONLY = True
CSRF_COOKIE_SAMESITE = "Lax"

DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en"
# a recording of 8 MB is 10.7 MB as base64; nothing else is nearly as large
DATA_UPLOAD_MAX_MEMORY_SIZE = 11_500_000

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB
WHITENOISE_INDEX_FILE = True
# the files are few and small; reading them in the worker's thread is what WhiteNoise does everywhere
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
