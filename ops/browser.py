"""The browser of the tests, the pictures and the measures: Debian's Chromium without a window, which asks nobody outside."""

BROWSER = "/usr/bin/chromium-headless-shell"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
