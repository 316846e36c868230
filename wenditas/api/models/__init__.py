"""What goes over the wire, beyond the stored models: one module for each part of the interface."""
