"""Speed, measured side by side in one run."""

from bright_tether.launcher import leave_other_cores_alone

leave_other_cores_alone()  # as in the program, before anything loads NumPy
