"""Review over HTTP."""
