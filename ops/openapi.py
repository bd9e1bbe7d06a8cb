"""Write the OpenAPI document that the browser's client is made from.

``python -m ops.openapi FILE``. Needs no database.
"""

import json
import os
from pathlib import Path
import sys

ROOT = Path(__file__).resolve().parents[1]


def main() -> int:
    """Write the document, keys in a stable order."""
    sys.path[:0] = [str(ROOT / "core"), str(ROOT / "server")]
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    import django

    django.setup()
    from api.root import api

    document = api.get_openapi_schema(path_prefix="/api/")
    Path(sys.argv[1]).write_text(json.dumps(document, indent=1, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
