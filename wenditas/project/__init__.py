"""What is done to a project: footage taken in, documents edited, files kept, the demo made."""
