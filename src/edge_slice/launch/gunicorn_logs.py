"""What gunicorn reads: how it logs."""

from __future__ import annotations

from edge_slice.logs import as_json, json_logs

logconfig_dict = json_logs("web") if as_json() else {}
