#include "core/base/run_program.h"

#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

namespace dusk {

bool ProgramEnd::broke() const { return WIFSIGNALED(status); }
int ProgramEnd::exitCode() const { return WEXITSTATUS(status); }

std::optional<ProgramEnd> runProgram(const std::filesystem::path& program,
                                     const std::vector<std::string>& arguments, double seconds,
                                     const Progress& progress,
                                     const std::function<void(std::string&)>& heard) {
  int pipeEnds[2];
  if (::pipe2(pipeEnds, O_CLOEXEC) != 0) return {};
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, pipeEnds[1], STDOUT_FILENO);
  posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
  std::vector<char*> all{const_cast<char*>(program.c_str())};
  for (const std::string& argument : arguments) all.push_back(const_cast<char*>(argument.c_str()));
  all.push_back(nullptr);
  pid_t pid = 0;
  const int code = ::posix_spawn(&pid, program.c_str(), &actions, nullptr, all.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  ::close(pipeEnds[1]);
  if (code != 0) {
    ::close(pipeEnds[0]);
    return {};
  }
  ProgramEnd end;
  const auto begun = std::chrono::steady_clock::now();
  for (bool open = true; open;) {
    pollfd watch{pipeEnds[0], POLLIN, 0};
    if (::poll(&watch, 1, 20) > 0) {
      char block[4096];
      const ssize_t got = ::read(pipeEnds[0], block, sizeof block);
      if (got > 0 && end.said.size() < 100'000) end.said.append(block, size_t(got));
      open = got > 0;
    }
    if (heard) heard(end.said);
    const std::chrono::duration<double> spent = std::chrono::steady_clock::now() - begun;
    end.tooLong = spent.count() > seconds;
    end.cancelled = progress.cancelled();
    if (end.tooLong || end.cancelled) {
      ::kill(pid, SIGKILL);
      break;
    }
  }
  ::close(pipeEnds[0]);
  ::waitpid(pid, &end.status, 0);
  return end;
}

}  // namespace dusk
