"""Settings of a server for one person on one machine."""

import contextlib
import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: Where the database and the key are kept; not part of the checkout.
VAR = Path(os.environ.get("MELLOW_VAR", ROOT / "var"))
WEB_BUILD = ROOT / "web" / "dist"
#: Pictures, movies and sheets of renders, and how many gigabytes of them may lie there.
MEDIA = Path(os.environ.get("MELLOW_MEDIA", VAR / "media"))
#: The folder that is handed over into; none, hand-overs are downloads.
OUT = os.environ.get("MELLOW_OUT", "")
MEDIA_GB = float(os.environ.get("MELLOW_MEDIA_GB", "20"))
#: Where work waits for workers: a Redis server for many machines; without one a file beside the database.
QUEUE = os.environ.get("MELLOW_QUEUE", "")
#: A worker that was not heard from for so many seconds has stopped.
LEASE_S = float(os.environ.get("MELLOW_LEASE_S", "40"))


def _secret() -> str:
    VAR.mkdir(parents=True, exist_ok=True, mode=0o700)
    # Scenes and renders are this person's alone.
    with contextlib.suppress(OSError):
        VAR.chmod(0o700)
    path = VAR / "secret-key"
    if not path.exists():
        # Never readable by anybody else, not even for a moment.
        with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
            file.write(secrets.token_urlsafe(48))
    return path.read_text()


SECRET_KEY = _secret()
#: What tasks in the queue are signed with; workers on other machines are given the same.
QUEUE_KEY = os.environ.get("MELLOW_QUEUE_KEY", "") or SECRET_KEY
DEBUG = False
#: The server answers to loopback names only, and to those that workers on other machines know it by.
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]", *os.environ.get("MELLOW_HOSTS", "").split()]
INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.auth",
    "mellow.productions",
    "mellow.dailies",
    "mellow.films",
    "mellow.library",
    "mellow.handover",
]
MIDDLEWARE = [
    # Outermost, so that every answer has its headers.
    "mellow.guard.SameOriginOnly",
    "mellow.problems.PlainProblems",
    "mellow.files.Files",
]
ROOT_URLCONF = "mellow.urls"
ASGI_APPLICATION = "mellow.asgi.application"
DATABASES = {
    "default": {
        "ENGINE": "mellow.storage",
        "NAME": VAR / "heron.sqlite3",
        # On the disk as the real one, so that threads and other processes share it.
        "TEST": {"NAME": VAR / "test.sqlite3"},
        "OPTIONS": {
            # A writer takes its lock when it begins, so two tabs queue instead of failing.
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            # FULL: an edit that was acknowledged is on the disk.
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
#: What is brought in may be that large.
DATA_UPLOAD_MAX_MEMORY_SIZE = 204 * 1024 * 1024
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.exists() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_AUTOREFRESH = False
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
