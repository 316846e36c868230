"""Prints the description of the API that the interface's types are generated from: python -m wenditas.api."""

import json
from pathlib import Path

from wenditas.api.app import create_app

print(json.dumps(create_app(Path("/nonexistent")).openapi(), indent=1))
