"""The window and what keeps it: settings, files, recovery, printing."""
