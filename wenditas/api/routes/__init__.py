"""Routers, one per kind of resource."""
