"""The API's own document, made once in a process: it takes its time."""

import json
from typing import Any

from api.root import api

DOCUMENT: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(path_prefix="/api/")))
