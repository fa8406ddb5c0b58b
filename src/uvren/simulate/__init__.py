"""The demo club, made from a seed by a model whose truth is known."""
