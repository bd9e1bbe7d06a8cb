"""Settings of the test run: the same server software, a throw-away data directory."""

import os

from config.settings import *  # noqa: F403
from config.settings import DATABASES, MIDDLEWARE

DATABASES["default"] |= {
    "PORT": int(os.environ.get("VIVID_TEST_DB_PORT", "23072")),
    "NAME": "vividroute",
    "CONN_MAX_AGE": 0,
}
MIDDLEWARE.remove("whitenoise.middleware.WhiteNoiseMiddleware")  # no collected files here
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
SMTP_PORT = 9  # nor there
IMAP_HOST = ""
BACKOFFICE_URL = "http://127.0.0.1:9"  # nobody answers there; tests that need it start their own
