"""The words of a mail that came as HTML, in the shape in which a person reads them.

Nothing is fetched and nothing is run. Cells stand apart by tabs, so that a table can be read as one; what is quoted
begins with ``>``, as it does in plain mails.
"""

from html.parser import HTMLParser
import re

from routecore.arriving.headers import cleaned

UNSEEN = {"script", "style", "head", "title", "template", "noscript", "object", "svg"}
#: They have no end of their own.
VOID = {"br", "hr", "img", "input", "meta", "link", "col", "wbr", "area", "base", "embed", "source"}
BLOCKS = {
    "p", "div", "tr", "table", "ul", "ol", "li", "h1", "h2", "h3", "h4", "h5", "h6", "blockquote",
    "section", "article", "header", "footer", "address", "pre", "br", "hr", "dl", "dt", "dd", "tbody",
}  # fmt: skip
_HIDDEN = re.compile(r"display\s*:\s*none|visibility\s*:\s*hidden", re.I)


class _Words(HTMLParser):
    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.lines: list[str] = []
        self.line = ""
        self.quoted = 0
        #: The element that hides all within it, and how many of its name are open within.
        self.unseen = ""
        self.within = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if self.unseen:
            self.within += tag == self.unseen
            return
        given = dict(attrs)
        hidden = "hidden" in given or _HIDDEN.search(given.get("style") or "")
        if tag not in VOID and (tag in UNSEEN or hidden):
            self.unseen, self.within = tag, 1
        elif tag in ("td", "th"):
            self.line += "\t" if self.line.strip() else ""
        elif tag in BLOCKS:
            self.end_line()
            self.quoted += tag == "blockquote"
            self.line = "- " if tag == "li" else ""

    def handle_endtag(self, tag: str) -> None:
        if self.unseen:
            self.within -= tag == self.unseen
            self.unseen = self.unseen if self.within else ""
        elif tag in BLOCKS:
            self.end_line()
            if tag == "blockquote":
                self.quoted = max(0, self.quoted - 1)
            if tag == "p" and self.lines and self.lines[-1].strip("> "):
                self.lines.append("> " * self.quoted)

    def handle_data(self, data: str) -> None:
        if not self.unseen:
            self.line += re.sub(r"\s+", " ", data)

    def end_line(self) -> None:
        cells = [cell.strip() for cell in self.line.split("\t")]
        if any(cell not in ("", "-") for cell in cells):
            self.lines.append("> " * self.quoted + "\t".join(cells))
        self.line = ""


def plain(markup: str) -> str:
    """The text of an HTML mail.

    >>> plain("<p>Dear all,<br>we need</p><table><tr><td>20</td><td>posts</td></tr></table><script>x()</script>")
    'Dear all,\\nwe need\\n\\n20\\tposts'
    """
    words = _Words()
    words.feed(cleaned(markup))
    words.close()
    words.end_line()
    return "\n".join(line.rstrip() for line in words.lines).strip("\n")
