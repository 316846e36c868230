"""Scopes, census and checks: what is measured from pictures."""
