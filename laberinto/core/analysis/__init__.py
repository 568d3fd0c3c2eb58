"""What is read off a simulation: figures, work, marks, differences, a mesh."""
