"""Resources of the week ahead."""
