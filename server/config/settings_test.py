"""Settings of the test run: the same server software, a throw-away data directory."""

from config.settings import *  # noqa: F403

PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
BACKOFFICE_URL = "http://127.0.0.1:9"  # nobody answers there; tests that need it start their own
