"""Calculations that several treatments are made from: a reference and a kernel each."""
