"""Sets one document and ends: typst source and data in on stdin, the PDF out on stdout, or its
pages as pictures (a JSON list of base64 PNG).

A process of its own, because typst has no time limit: the one who starts it may kill it. It bounds
its own memory and processor time, sees no file but the source, and reaches no network: packages
would be asked for at a closed door. It knows nothing of the application.
"""

import base64
import json
import os
import resource
import sys

SECONDS = 8
BYTES = 2 << 30
DOTS_PER_INCH = 96
CLOSED_DOOR = "http://127.0.0.1:9"


def main() -> int:
    """0 with the document on stdout, or 1 with what is wrong on stderr."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (BYTES, BYTES))
    for name in ("http_proxy", "https_proxy", "all_proxy"):
        os.environ[name] = os.environ[name.upper()] = CLOSED_DOOR
    import typst

    asked = json.load(sys.stdin)
    try:
        body = typst.compile(
            {"main": asked["source"].encode()},
            font_paths=[asked["fonts"]],
            ignore_system_fonts=True,
            sys_inputs={"data": asked["data"]},
            format=asked["form"],
            ppi=DOTS_PER_INCH,
        )
    except typst.TypstError as error:
        sys.stderr.write("\n".join([error.message, *error.hints, *error.trace]))
        return 1
    if asked["form"] == "png":
        pages = body if isinstance(body, list) else [body]
        body = json.dumps([base64.b64encode(page).decode() for page in pages]).encode()
    sys.stdout.buffer.write(body)
    return 0


if __name__ == "__main__":
    sys.exit(main())
