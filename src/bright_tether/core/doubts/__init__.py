"""Is the line to be trusted? Verdicts by stated rules, and what the checks could have seen."""
