"""Settings: what may differ between machines comes from the environment or from var/."""

import os
from pathlib import Path
from urllib.parse import unquote, urlsplit

ROOT = Path(__file__).resolve().parent.parent
VAR = Path(os.environ.get("URBANQUEUE_VAR", ROOT / "var"))


def _from_var(name: str, default: str) -> str:
    file = VAR / name
    return file.read_text().strip() if file.exists() else default


SECRET_KEY = os.environ.get("SECRET_KEY") or _from_var("secret", "")
DEBUG = os.environ.get("URBANQUEUE_DEBUG") == "1"
ALLOWED_HOSTS = os.environ.get("ALLOWED_HOSTS", "localhost,127.0.0.1,[::1]").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.postgres",
    "procrastinate.contrib.django",
    "urbanqueue.accounts",
    "urbanqueue.studies",
    "urbanqueue.runs",
    "urbanqueue.searches",
    "urbanqueue.memos",
    "urbanqueue.logs",
    "urbanqueue.api",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "urbanqueue.web.ContentSecurityPolicy",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "urbanqueue.api.errors.InOurForm",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "urbanqueue.urls"
WSGI_APPLICATION = "urbanqueue.wsgi.application"

_database = urlsplit(
    os.environ.get("DATABASE_URL") or _from_var("database-url", "postgresql://urbanqueue@127.0.0.1:5432/urbanqueue")
)
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": _database.path.lstrip("/"),
        "USER": unquote(_database.username or ""),
        "PASSWORD": unquote(_database.password or ""),
        "HOST": _database.hostname or "127.0.0.1",
        "PORT": _database.port or 5432,
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "accounts.Person"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 30
SESSION_COOKIE_SAMESITE = CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "urbanqueue.api.errors.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"

BEHIND_TLS = os.environ.get("URBANQUEUE_TLS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = BEHIND_TLS
SECURE_REDIRECT_EXEMPT = [r"^api/health$"]
SECURE_HSTS_SECONDS = 60 * 60 * 24 * 365 if BEHIND_TLS else 0
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if BEHIND_TLS else None

USE_TZ = True
TIME_ZONE = "UTC"
WEB_ROOT = ROOT / "web" / "dist"
WHITENOISE_ROOT = WEB_ROOT if WEB_ROOT.exists() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+-[\w-]{8}\.\w+$"
STATIC_URL = "/static/"
DATA_UPLOAD_MAX_MEMORY_SIZE = 16 * 1024 * 1024

PROCRASTINATE_IMPORT_PATHS = ["urbanqueue.runs.tasks", "urbanqueue.searches.tasks", "urbanqueue.logs.tasks"]
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"mistakes": {"()": "urbanqueue.web.Mistakes"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["mistakes"]}},
    "loggers": {"django.request": {"level": "ERROR"}, "django.security.csrf": {"level": "ERROR"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
