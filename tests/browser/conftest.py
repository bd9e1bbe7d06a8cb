"""The whole application in its own processes, on the demo data, driven in Debian's Chromium."""

from collections.abc import Callable, Generator, Iterator
from contextlib import suppress
import os
import signal
from typing import Any

from playwright.sync_api import Error, Page, expect
import pytest

from ops import database, prepared
from ops.browser import BROWSER, FLAGS
from ops.stack import Stack, of_browser_tests

#: Two browsers, two servers and their databases share two processors: what is slow is not wrong.
expect.set_options(timeout=20_000)


#: Letters of a page that a failure tells.
TOLD = 4_000


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(
    item: pytest.Item, call: pytest.CallInfo[None]
) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """A test that fails tells where its page stood, and what could be read there."""
    report = yield
    page = getattr(item, "funcargs", {}).get("page")
    if report.when == "call" and report.failed and page and not page.is_closed():
        with suppress(Error):
            seen = page.locator("body").inner_text(timeout=5_000)
            report.sections.append(("The page", f"{page.url}\n{seen[:TOLD]}"))
    return report


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    """Debian's Chromium, which asks nobody outside."""
    return {"executable_path": BROWSER, "args": FLAGS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    """A laptop's screen; a clock that is not the house's, so that days are told by the server.

    Nothing moves on its way to its place: what is drawn meanwhile takes a tenth of the time.
    """
    return {
        "viewport": {"width": 1280, "height": 800},
        "locale": "en-GB",
        "timezone_id": "Pacific/Auckland",
        "reduced_motion": "reduce",
    }


@pytest.fixture(scope="session")
def stack(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Stack]:
    """The running application; its database is made anew."""
    running = of_browser_tests(tmp_path_factory.mktemp("stack"))
    running.refuse_busy_ports()
    database.start(running.database)
    prepared.demo_into(running.database_name, running.books)
    try:
        running.bring_up()
        yield running
    finally:
        running.stop()


@pytest.fixture
def kill(stack: Stack) -> Callable[[str], None]:
    """End a process without a word, as a power cut does."""

    def end(name: str) -> None:
        process = stack.processes[name]
        os.killpg(process.pid, signal.SIGKILL)
        process.wait()

    return end


@pytest.fixture
def faults(page: Page) -> list[str]:
    """What the page complained of in its console."""
    heard: list[str] = []
    page.on("pageerror", lambda error: heard.append(str(error)))
    page.on("console", lambda m: heard.append(m.text) if m.type == "error" else None)
    return heard


@pytest.fixture(scope="session")
def entered() -> dict[str, list[Any]]:
    """By name, the cookies of somebody who signed in before: to check a password takes a second."""
    return {}


@pytest.fixture
def sign_in(
    page: Page, stack: Stack, faults: list[str], entered: dict[str, list[Any]]
) -> Iterator[Callable[[str], Page]]:
    """Sign in as somebody of the demo; at the end the console must have stayed silent."""

    def enter(name: str) -> Page:
        page.context.clear_cookies()
        page.context.add_cookies(entered.get(name, []))
        page.goto(f"{stack.url}/")
        password = page.get_by_label("Password")
        page.get_by_role("navigation", name="Places").or_(password).wait_for()
        if not password.is_visible():
            return page
        page.get_by_label("Name").fill(name)
        password.fill("orchard-demo")
        page.keyboard.press("Enter")
        page.wait_for_url(f"{stack.url}/today")
        entered[name] = page.context.cookies()  # type: ignore[assignment]
        return page

    yield enter
    # A question that was under way when somebody signed out is refused, and rightly so.
    assert [words for words in faults if "401 (Unauthorized)" not in words] == []
