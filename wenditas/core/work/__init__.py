"""The work for a picture: operations, the graph of them, and `run`, the only place that performs them."""
