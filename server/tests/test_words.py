"""The glossary is kept: what it says is never said stands in no label, finding, paper, error or page of the docs."""

import re
import unittest

from django.conf import settings

ROOT = settings.ROOT
GLOSSARY = ROOT / "docs" / "words.md"
WHERE = ("web/src", "engine", "server", "docs", "README.md")
SAID = re.compile(r'"(?:[^"\\\n]|\\.)*"|`(?:[^`\\]|\\.)*`|>[^<>{}]+<', re.S)

DOCSTRING = re.compile(r'"""[\s\S]*?"""')


def glossary() -> dict[str, list[str]]:
    """Return what is never said, by what is said instead."""
    found = {}
    for line in GLOSSARY.read_text("utf-8").splitlines():
        cells = [cell.strip() for cell in line.strip("|").split("|")]
        if line.startswith("|") and len(cells) == 3 and cells[0] not in ("word", "---"):
            found[cells[0]] = [one.strip() for one in cells[2].split(",") if one.strip()]
    return found


def said() -> list[tuple[str, str]]:
    """Return every piece of text that people may read, with its file; tests and comments are not read by them."""
    found = []
    for where in WHERE:
        start = ROOT / where
        for file in [start] if start.is_file() else sorted(start.rglob("*")):
            name = str(file.relative_to(ROOT))
            if file == GLOSSARY or "/tests/" in name or "/decisions/" in name or ".gen." in name:
                continue
            if file.suffix in (".tsx", ".ts", ".py"):
                text = DOCSTRING.sub("", file.read_text("utf-8"))
                found += [(name, piece) for piece in SAID.findall(text)]
            elif file.suffix == ".md":
                found.append((name, file.read_text("utf-8")))
    return found


class Glossary(unittest.TestCase):
    def test_it_holds_some_forty_words_each_once(self) -> None:
        words = glossary()
        self.assertGreater(len(words), 40)
        lines = [line for line in GLOSSARY.read_text("utf-8").splitlines() if line.startswith("| ")]
        self.assertEqual(len(lines), len(words) + 1)  # and its heading
        self.assertGreater(sum(map(len, words.values())), 20)

    def test_what_is_never_said_is_said_nowhere(self) -> None:
        never = [word for words in glossary().values() for word in words]
        found = []
        for name, text in said():
            for word in never:
                if re.search(rf"\b{re.escape(word)}\b", text):
                    found.append(f"{name}: {word}: {text[:80]}")
        self.assertEqual(found, [])

    def test_it_would_be_found(self) -> None:
        self.assertTrue(re.search(r"\bEnd to end\b", 'name="End to end"'))
        self.assertGreater(len(said()), 2000)


if __name__ == "__main__":
    unittest.main()
