"""The core without a browser: `edge-slice inspect`, `plan` and `cut`."""
