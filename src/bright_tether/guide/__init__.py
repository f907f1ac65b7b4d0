"""The guide that ships along, one section a step."""
