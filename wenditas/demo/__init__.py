"""The demo: a short film for the Marrow Hill Tramway, an invented hill town in autumn."""
