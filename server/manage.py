#!/usr/bin/env python3
"""Django's commands for Vivid Route."""

import os
from pathlib import Path
import sys

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    root = Path(__file__).resolve().parents[1]
    sys.path[:0] = [str(root / "core"), str(root / "server"), str(root)]
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)
