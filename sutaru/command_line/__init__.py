"""The command line: the same job as in the browser, on bundles. ``grammar`` says what can be asked, a file a command does it."""
