#pragma once
#include <filesystem>
#include <string>

/// Where the parts of this program are, wherever it was installed, or in its build tree.
namespace dusk {

/// The folder of the program that is running.
std::filesystem::path programFolder();

/// A program that works for this one out of sight: beside it, in PREFIX/libexec/gentle-dusk, or in the build
/// tree. Where it is nowhere, the place beside this program, so that a failure can name it.
std::filesystem::path helperProgram(const std::string& name);
/// The headless program: $DUSK_BATCH, or as helperProgram().
std::filesystem::path headlessProgram();

/// A folder of what comes with the program ("light-sets", "demo", "guide"): PREFIX/share/gentle-dusk/NAME, or
/// the source's own; empty where it is nowhere.
std::filesystem::path sharedFolder(const std::string& name);

/// What this program is: "0.1.0".
std::string programVersion();
/// The commit it was built from; "unknown" outside of a clone. `main` says it, once, before there are
/// threads: so a new commit makes two programs anew and not every test.
std::string programCommit();
void setProgramCommit(std::string commit);
/// Both, as reports begin: "Gentle Dusk 0.1.0, commit 4a922c7".
std::string programTitle();

}  // namespace dusk
