"""What the API gives and takes, beyond the core's own models: a module a resource."""
