#pragma once
#include <functional>

namespace dusk {

/// Runs `work` on this thread so that what it does in parallel takes only cores that nothing in the
/// foreground wants: the picture on screen goes first.
void runInBackground(const std::function<void()>& work);

/// `each` of 0 to `count` - 1, side by side, on cores that nothing in the foreground wants. The thread that
/// calls takes part: so nobody waits for threads that wait themselves.
void eachInBackground(int count, const std::function<void(int)>& each);

/// From here on this thread, and those it starts, are served after threads that wait for a person: a window
/// is drawn at once while all cores compute. Where nobody waits, they have the machine as ever.
inline constexpr int backgroundNiceness = 10;
void giveWay();

/// From here on at most so many threads compute at once in this program; 0: as many as there are cores.
void limitThreads(int threads);

}  // namespace dusk
