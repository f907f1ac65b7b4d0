"""Speed, measured side by side in one run."""
