"""The engine knows nothing of the web, the database or files."""

import ast
import unittest
from pathlib import Path

ENGINE = Path(__file__).parents[1]
FOREIGN = {"django", "ninja", "server", "orjson", "requests", "sqlite3"}


class Imports(unittest.TestCase):
    def test_the_engine_imports_no_interface_code(self) -> None:
        for path in ENGINE.rglob("*.py"):
            if "tests" in path.relative_to(ENGINE).parts:
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                names = [alias.name for alias in node.names] if isinstance(node, ast.Import) else []
                names += [node.module or ""] if isinstance(node, ast.ImportFrom) else []
                for name in names:
                    self.assertNotIn(name.split(".")[0], FOREIGN, f"{path} imports {name}")
                called = (
                    node.func.id if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) else ""
                )
                self.assertNotEqual(called, "open", f"{path} opens a file")
