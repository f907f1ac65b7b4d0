"""How strongly two columns go together."""
