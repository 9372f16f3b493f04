"""Long work, away from the requests: the executor, what it runs, and its progress."""
