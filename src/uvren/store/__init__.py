"""What is kept: typed models, connections and migrations. The only place that knows MariaDB."""
