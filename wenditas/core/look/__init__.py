"""The look: its document, its edits, and its evaluation."""
