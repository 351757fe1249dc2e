#pragma once

/// The last events of this run in memory of a fixed size, so that a crashing program can still tell them: no
/// locks, nothing allocated.
namespace dusk {

/// Keeps a line (its first 119 bytes) and when it was. From any thread.
void rememberEvent(const char* line) noexcept;

/// Gives the remembered lines, oldest first, with the seconds since the program began before them: "  12.3 s
/// opened a project". May be called from a signal handler; a line that is being written meanwhile may come
/// out mixed.
void forEachEvent(void (*take)(const char* line, void* context), void* context) noexcept;

}  // namespace dusk
