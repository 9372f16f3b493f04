"""Long work, away from the requests: the board of tasks, the executors, what workers run."""
