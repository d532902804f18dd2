"""Plain TypeScript of the front end, run in Node: questions in, answers out, no browser."""

import json
import subprocess
from typing import Any

from django.conf import settings

# Vite's bundler follows the imports; what comes out is one module that Node can load from memory.
RUN = """
import { build } from "vite";
import { readFileSync } from "node:fs";
const { entry, questions } = JSON.parse(readFileSync(0, "utf8"));
const made = await build({ configFile: false, logLevel: "silent", build: {
  write: false, minify: false, lib: { entry, formats: ["es"], fileName: "m" } } });
const code = [made].flat()[0].output[0].code;
const module = await import("data:text/javascript;base64," + Buffer.from(code).toString("base64"));
console.log(JSON.stringify(questions.map(([call, ...rest]) => module[call](...rest))));
"""


def asked(entry: str, questions: list[list[Any]]) -> list[Any]:
    """Return what functions of web/src/`entry` answer to [function, arguments …] questions."""
    done = subprocess.run(
        ["node", "--input-type=module", "-e", RUN],
        cwd=settings.ROOT / "web",
        input=json.dumps({"entry": f"src/{entry}", "questions": questions}),
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    answers: list[Any] = json.loads(done.stdout)
    return answers
