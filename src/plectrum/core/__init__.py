"""The computation. It imports no interface toolkit; an import contract keeps it so."""
