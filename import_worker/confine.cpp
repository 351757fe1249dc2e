#include "import_worker/confine.h"

#include <fcntl.h>
#include <seccomp.h>

#include <cerrno>
#include <memory>

namespace {

using Filter = std::unique_ptr<void, decltype(&seccomp_release)>;

constexpr int forbidden[] = {
    // the network
    SCMP_SYS(socket), SCMP_SYS(connect), SCMP_SYS(bind), SCMP_SYS(listen), SCMP_SYS(accept),
    SCMP_SYS(accept4), SCMP_SYS(sendto), SCMP_SYS(sendmsg), SCMP_SYS(sendmmsg),
    // other programs
    SCMP_SYS(execve), SCMP_SYS(execveat), SCMP_SYS(process_vm_writev), SCMP_SYS(kill), SCMP_SYS(tkill),
#if !defined(__SANITIZE_ADDRESS__)  // which looks for leaks by it
    SCMP_SYS(ptrace),
#endif
    // what lies on the disk; openat2 hides its flags in memory, where a filter cannot look
    SCMP_SYS(creat), SCMP_SYS(openat2), SCMP_SYS(truncate), SCMP_SYS(unlink), SCMP_SYS(unlinkat),
    SCMP_SYS(rename), SCMP_SYS(renameat), SCMP_SYS(renameat2), SCMP_SYS(link), SCMP_SYS(linkat),
    SCMP_SYS(symlink), SCMP_SYS(symlinkat), SCMP_SYS(mkdir), SCMP_SYS(mkdirat), SCMP_SYS(rmdir),
    SCMP_SYS(mknod), SCMP_SYS(mknodat), SCMP_SYS(chmod), SCMP_SYS(fchmodat), SCMP_SYS(chown),
    SCMP_SYS(lchown), SCMP_SYS(fchownat), SCMP_SYS(setxattr), SCMP_SYS(lsetxattr), SCMP_SYS(utimensat),
    // the machine
    SCMP_SYS(mount), SCMP_SYS(umount2), SCMP_SYS(unshare), SCMP_SYS(setns), SCMP_SYS(bpf),
    SCMP_SYS(perf_event_open), SCMP_SYS(keyctl), SCMP_SYS(add_key), SCMP_SYS(io_uring_setup)};

/// Opening for anything but reading.
bool forbidWriting(scmp_filter_ctx filter, int call, unsigned flagsAt) {
  const uint32_t no = SCMP_ACT_ERRNO(EACCES);
  const auto masked = [&](uint64_t mask, uint64_t value) {
    return scmp_arg_cmp{flagsAt, SCMP_CMP_MASKED_EQ, mask, value};
  };
  return seccomp_rule_add(filter, no, call, 1, masked(O_ACCMODE, O_WRONLY)) == 0 &&
         seccomp_rule_add(filter, no, call, 1, masked(O_ACCMODE, O_RDWR)) == 0 &&
         seccomp_rule_add(filter, no, call, 1, masked(O_CREAT, O_CREAT)) == 0 &&
         seccomp_rule_add(filter, no, call, 1, masked(O_TRUNC, O_TRUNC)) == 0;
}

}  // namespace

bool confine() {
  const Filter filter(seccomp_init(SCMP_ACT_ALLOW), seccomp_release);
  if (!filter) return false;
  for (const int call : forbidden)
    if (seccomp_rule_add(filter.get(), SCMP_ACT_ERRNO(EACCES), call, 0) != 0) return false;
  return forbidWriting(filter.get(), SCMP_SYS(open), 1) && forbidWriting(filter.get(), SCMP_SYS(openat), 2) &&
         seccomp_load(filter.get()) == 0;
}
