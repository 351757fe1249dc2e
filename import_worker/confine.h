#pragma once

/// Takes away from this process, for good, what nobody who reads a foreign file needs: the network, other
/// programs, and writing to any file that is not open yet. Reading stays. Where the kernel has no such
/// filters nothing is taken away, and false comes back: limits of memory and time hold either way.
bool confine();
