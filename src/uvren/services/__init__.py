"""One module for each step of the working day: load from the store, ask the core, save in one transaction."""
