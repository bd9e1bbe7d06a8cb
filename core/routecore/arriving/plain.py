"""The words of a mail that came as HTML, in the shape in which a person reads them.

Nothing is fetched and nothing is run. Cells stand apart by tabs, so that a table can be read as one; what is quoted
begins with ``>``, as it does in plain mails. What is no HTML is read as words. Whatever stands there, each sign of it is
looked at a few times at most: a stranger chooses what comes, and must not choose how long it takes.
"""

from html import unescape
import re

from routecore.arriving.headers import cleaned

UNSEEN = {"script", "style", "head", "title", "template", "noscript", "object", "svg"}
#: They have no end of their own.
VOID = {"br", "hr", "img", "input", "meta", "link", "col", "wbr", "area", "base", "embed", "source"}
BLOCKS = {
    "p", "div", "tr", "table", "ul", "ol", "li", "h1", "h2", "h3", "h4", "h5", "h6", "blockquote",
    "section", "article", "header", "footer", "address", "pre", "br", "hr", "dl", "dt", "dd", "tbody",
}  # fmt: skip
_HIDDEN = re.compile(
    r"display\s*+:\s*+none|visibility\s*+:\s*+hidden|(?<![\w-])hidden(?![\w-])", re.I
)

#: Quoted so deep at most, in a text; deeper is told as this.
DEEPEST_QUOTE = 10
#: A tag ends at its ``>``, one within quotes is none; nothing is tried twice (possessive), nothing goes beyond a ``<``.
_TAG = re.compile(r"""<(/?)([a-zA-Z][a-zA-Z0-9]*+)((?:[^<>"']|"[^"<]*+"|'[^'<]*+')*+)>""")


class _Words:
    def __init__(self) -> None:
        self.lines: list[str] = []
        self.line: list[str] = []
        self.quoted = 0
        #: The element that hides all within it, and how many of its name are open within.
        self.unseen = ""
        self.within = 0

    def start(self, tag: str, attributes: str) -> None:
        if self.unseen:
            self.within += tag == self.unseen
        elif tag not in VOID and (tag in UNSEEN or _HIDDEN.search(attributes)):
            self.unseen, self.within = tag, 1
        elif tag in ("td", "th"):
            self.line += ["\t"] if self.line else []
        elif tag in BLOCKS:
            self.end_line()
            self.quoted += tag == "blockquote"
            self.line = ["- "] if tag == "li" else []

    def end(self, tag: str) -> None:
        if self.unseen:
            self.within -= tag == self.unseen
            self.unseen = self.unseen if self.within else ""
        elif tag in BLOCKS:
            self.end_line()
            if tag == "blockquote":
                self.quoted = max(0, self.quoted - 1)
            if tag == "p" and self.lines and self.lines[-1].strip("> "):
                self.lines.append(self.mark)

    def words(self, text: str) -> None:
        if not self.unseen:
            seen = re.sub(r"\s+", " ", unescape(text))
            self.line += [seen] if self.line or seen.strip() else []

    @property
    def mark(self) -> str:
        return "> " * min(self.quoted, DEEPEST_QUOTE)

    def end_line(self) -> None:
        cells = [cell.strip() for cell in "".join(self.line).split("\t")]
        if any(cell not in ("", "-") for cell in cells):
            self.lines.append(self.mark + "\t".join(cells))
        self.line = []


def plain(markup: str) -> str:
    """The text of an HTML mail.

    >>> plain("<p>Dear all,<br>we need</p><table><tr><td>20</td><td>posts</td></tr></table><script>x()</script>")
    'Dear all,\\nwe need\\n\\n20\\tposts'
    """
    text, at, words = cleaned(markup), 0, _Words()
    while (sign := text.find("<", at)) >= 0:
        words.words(text[at:sign])
        tag = _TAG.match(text, sign)
        if tag:
            name = tag[2].lower()
            if tag[1]:
                words.end(name)
            else:
                words.start(name, tag[3])
            at = tag.end()
        elif text.startswith(("<!", "<?"), sign):
            closing = "-->" if text.startswith("<!--", sign) else ">"
            found = text.find(closing, sign)
            at = found + len(closing) if found >= 0 else len(text)
        else:
            words.words("<")
            at = sign + 1
    words.words(text[at:])
    words.end_line()
    return cleaned("\n".join(line.rstrip() for line in words.lines)).strip("\n")
