"""The web API: thin routers that parse, call and return."""
