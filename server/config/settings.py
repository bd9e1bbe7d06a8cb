"""Settings. Everything that differs between machines comes from ``VIVID_*`` variables."""

from decimal import Decimal
import os
from pathlib import Path

from config.paths import ROOT, VAR, load_secrets

_secrets = load_secrets()

SECRET_KEY = _secrets["django"]
DEBUG = False
PORT = int(os.environ.get("VIVID_PORT", "8000"))
#: The names under which the house is reached, the first in links; see docs/settings.md.
ALLOWED_HOSTS = os.environ.get("VIVID_HOSTS", "127.0.0.1,localhost,[::1]").split(",")
#: Behind TLS: cookies and pages only over it. Behind a proxy: it says who calls, and over what.
TLS = os.environ.get("VIVID_TLS") == "1"
BEHIND_A_PROXY = os.environ.get("VIVID_PROXY") == "1"
CSRF_TRUSTED_ORIGINS: list[str] = []

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "apps.people",
    "apps.numbering",
    "apps.journal",
    "apps.catalogue",
    "apps.stock",
    "apps.customers",
    "apps.prices",
    "apps.deals",
    "apps.papers",
    "apps.diary",
    "apps.quotes",
    "apps.orders",
    "apps.files",
    "apps.buyers",
    "apps.ledger",
    "apps.regulars",
    "apps.calloffs",
    "apps.standing_orders",
    "apps.forecast",
    "apps.leads",
    "apps.mail",
    "apps.handover",
    "demo",
    "apps.kept",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "config.security.HeadersMiddleware",
    "config.compressing.CompressMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "config.security.VisitMiddleware",
    "config.security.WritesMiddleware",
    "config.once.OnceMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [ROOT / "web" / "dist", ROOT / "server" / "api" / "templates"],
    }
]

#: How long a statement waits for a lock, and how long it may run; 0 is no limit, as migrations need.
LOCK_SECONDS = 5
STATEMENT_SECONDS = int(os.environ.get("VIVID_STATEMENT_SECONDS", "0"))
#: The running application has no rights but on rows; what migrates is another account.
DATABASE_USER = os.environ.get("VIVID_DB_USER", "vividroute")
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.mysql",
        "NAME": os.environ.get("VIVID_DB_NAME", "vividroute"),
        "USER": DATABASE_USER,
        "PASSWORD": _secrets["database_app" if DATABASE_USER == "vividroute_app" else "database"],
        "HOST": "127.0.0.1",
        "PORT": int(os.environ.get("VIVID_DB_PORT", "23071")),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {
            "charset": "utf8mb4",
            "isolation_level": "read committed",
            "init_command": "SET SESSION sql_mode='STRICT_ALL_TABLES,ERROR_FOR_DIVISION_BY_ZERO,"
            "NO_ZERO_DATE,NO_ZERO_IN_DATE,NO_ENGINE_SUBSTITUTION', "
            f"innodb_lock_wait_timeout={LOCK_SECONDS}, max_statement_time={STATEMENT_SECONDS}",
            "local_infile": False,
        },
        "TEST": {"CHARSET": "utf8mb4", "COLLATION": "utf8mb4_uca1400_as_ci"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
# MariaDB has no partial or expression unique indexes; Django would only warn and skip them.
SILENCED_SYSTEM_CHECKS: list[str] = []

AUTH_USER_MODEL = "people.User"
_validators = "django.contrib.auth.password_validation"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": f"{_validators}.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": f"{_validators}.CommonPasswordValidator"},
    {"NAME": f"{_validators}.UserAttributeSimilarityValidator"},
]
#: With TLS a cookie carries its promise in its name: only this host, only over TLS, every path.
_prefix = "__Host-" if TLS else ""
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_NAME = f"{_prefix}vivid_session"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = TLS
CSRF_COOKIE_NAME = f"{_prefix}vivid_csrf"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "api.errors.csrf_refused"
SECURE_HSTS_SECONDS = 31_536_000 if TLS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = SECURE_HSTS_PRELOAD = TLS
if BEHIND_A_PROXY:
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000
#: The largest file that is taken, with what its form needs around it.
MOST_UPLOADED = 5_100_000
#: A file that is kept beside a record, with what the form around it takes.
MOST_KEPT = 15_100_000
#: Where the contents of kept files lie; never inside of what the web server serves.
FILES = Path(os.environ.get("VIVID_FILES", VAR / "files"))

USE_TZ = True
TIME_ZONE = os.environ.get("VIVID_TIME_ZONE", "Europe/Vienna")
LANGUAGE_CODE = "en-gb"
USE_I18N = False

STATIC_URL = "/static/"
STATIC_ROOT = VAR / "static"
STATICFILES_DIRS = [ROOT / "web" / "dist"] if (ROOT / "web" / "dist").exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/static/assets/.+-[A-Za-z0-9_-]{8}\..+$"

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "line"}},
    "root": {"handlers": ["console"], "level": "INFO"},
    # Refused input is answered, not logged: 4xx are the sender's affair.
    "loggers": {"django.request": {"level": "ERROR"}, "httpx": {"level": "WARNING"}},
}

#: The demonstration: invented people and figures, loaded into an empty database.
DEMO = os.environ.get("VIVID_DEMO", "1") == "1"

# ---- the house's own settings -------------------------------------------------------------

BASE_CURRENCY = "EUR"
BACKOFFICE_URL = os.environ.get(
    "VIVID_BACKOFFICE_URL", f"http://127.0.0.1:{os.environ.get('VIVID_BACKOFFICE_PORT', '8071')}"
)
BACKOFFICE_TOKEN = _secrets["backoffice"]
#: What the back office signs its answers with.
BACKOFFICE_KEY = os.environ.get("VIVID_BACKOFFICE_KEY") or _secrets["backoffice_key"]
BACKOFFICE_TIMEOUT_SECONDS = 5.0
#: Where mail is handed over (the stand-in without settings), how the line is kept: ``plain``, ``starttls``, ``tls``.
SMTP_HOST = os.environ.get("VIVID_SMTP_HOST", "127.0.0.1")
SMTP_PORT = int(os.environ.get("VIVID_SMTP_PORT", "8073"))
SMTP_SECURITY = os.environ.get("VIVID_SMTP_SECURITY", "plain")
SMTP_USER = os.environ.get("VIVID_SMTP_USER", "")
SMTP_PASSWORD = os.environ.get("VIVID_SMTP_PASSWORD", "")
#: Where the house's mailbox is read (the stand-in without settings); with an empty host none is.
IMAP_HOST = os.environ.get("VIVID_IMAP_HOST", "127.0.0.1")
IMAP_PORT = int(os.environ.get("VIVID_IMAP_PORT", "8074"))
IMAP_SECURITY = os.environ.get("VIVID_IMAP_SECURITY", "plain")
IMAP_USER = os.environ.get("VIVID_IMAP_USER", "")
IMAP_PASSWORD = os.environ.get(
    "VIVID_IMAP_PASSWORD", "" if "VIVID_IMAP_HOST" in os.environ else _secrets["mailbox"]
)
#: The mail servers whose mailboxes people and the administrator may add, as ``host:port:security``; no other is asked.
IMAP_SERVERS = [
    each.strip()
    for each in os.environ.get(
        "VIVID_IMAP_SERVERS", f"{IMAP_HOST}:{IMAP_PORT}:{IMAP_SECURITY}" if IMAP_HOST else ""
    ).split(",")
    if each.strip()
]
#: What seals their passwords in the database.
MAILBOX_KEY = _secrets["mailbox_key"]
#: The house's address: mail leaves under it, with the person's name, and its mailbox is what is read; where none is,
#: answers go to the person's own.
MAIL_FROM = os.environ.get("VIVID_MAIL_FROM", "sales@quillfen.example")
#: Orders up to ``most`` in the base currency hand themselves over ``minutes`` after they were written, where
#: nothing is against it; without an amount none does.
SELF_HANDOVER = {
    "most": Decimal(os.environ.get("VIVID_SELF_HANDOVER_MOST") or "0"),
    "minutes": Decimal(os.environ.get("VIVID_SELF_HANDOVER_MINUTES") or "10"),
}
#: How old balances may be before standing says so, and what it tolerates.
STANDING_TOLERANCE_DAYS = 30
#: Figures of stock that are older are said to be, in hours.
STOCK_STALE_HOURS = 24
#: The country of the house: of an address that names none.
HOME_COUNTRY = "QF"
#: Whose public holidays hold in a country that the calendars do not know.
HOLIDAYS_LIKE = {"QF": "AT"}
#: A quote is open for acceptance this long, and asked after this many days.
QUOTE_VALID_DAYS = 30
QUOTE_FOLLOW_UP_DAYS = 7
#: What a new deal's decision and a new follow-up propose, in days from today.
DEAL_DECISION_DAYS = 30
#: An open deal of which nothing was done for so many days is marked.
DEAL_QUIET_DAYS = 21
FOLLOW_UP_DAYS = 7
#: A quote that lapses within this many days is shown on Today.
QUOTE_LAPSING_DAYS = 7
#: Where a quote's margin is below this, the checks strip says so.
MARGIN_FLOOR_PERCENT = 20
#: How several discounts on a line work together: chain, add or best.
DISCOUNT_POLICY = "chain"
