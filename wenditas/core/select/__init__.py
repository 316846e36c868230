"""Selections: recipes for mattes."""
