"""A saved page: the recipe that stands in it as JSON-LD, and its words."""

import json
from html.parser import HTMLParser
from typing import Any

from gullpeak.files import schema_org

SILENT = ("script", "style", "noscript", "template", "svg", "nav", "footer", "header")
"""Elements whose text nobody reads."""
LINES = ("p", "li", "br", "div", "h1", "h2", "h3", "h4", "tr", "section", "article", "title")
"""Elements that stand on lines of their own."""


class _Page(HTMLParser):
    """The scripts of JSON-LD of a page, and its text."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.scripts: list[str] = []
        self.text: list[str] = []
        self.silent = 0
        self.linked = False

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Begin an element."""
        if tag in SILENT:
            self.silent += 1
            self.linked = tag == "script" and dict(attrs).get("type", "") == "application/ld+json"
            if self.linked:
                self.scripts.append("")
        elif tag in LINES:
            self.text.append("\n")

    def handle_endtag(self, tag: str) -> None:
        """End an element."""
        if tag in SILENT:
            self.silent = max(0, self.silent - 1)
            self.linked = False
        elif tag in LINES:
            self.text.append("\n")

    def handle_data(self, data: str) -> None:
        """Take what stands in an element."""
        if self.linked:
            self.scripts[-1] += data
        elif not self.silent:
            self.text.append(data)


def _parsed(text: str) -> _Page:
    parser = _Page()
    parser.feed(text)
    parser.close()
    return parser


def recipe_in(text: str) -> Any:
    """Return the JSON-LD of a page that holds a recipe; None where it has none."""
    for script in _parsed(text).scripts:
        try:
            content = json.loads(script)
        except ValueError:
            continue
        if schema_org.is_one(content):
            return content
    return None


def words(text: str) -> str:
    """Return the text of a page, a line for each of its paragraphs."""
    lines = (" ".join(line.split()) for line in "".join(_parsed(text).text).splitlines())
    return "\n".join(line for line in lines if line)
