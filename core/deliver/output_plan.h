#pragma once
#include "core/deliver/deliver.h"
#include "core/deliver/output_file.h"

namespace dusk {

/// The files of a shot, of a picture traced at that size: what each shows, and its name. With a picture's
/// number in the options, its films, and that picture of its sequences. Error: a name that cannot be, two
/// files of one name, or one that is taken (see IfThere).
Result<std::vector<OutputPlan>> planOutputs(const Project& project, const Shot& shot,
                                            const AssetStore& assets, const DeliverOptions& options,
                                            int width, int height);
/// Paths of what is there already and was not made of this shot, of the files that would be written.
std::vector<std::filesystem::path> takenNames(const Project& project, const Shot& shot,
                                              const AssetStore& assets, const DeliverOptions& options,
                                              int width, int height);
/// Whether a shot asks for anything that is a film, and for anything that is not.
bool wantsFilm(const Shot& shot);
bool wantsStill(const Shot& shot);
/// The size that a shot is traced at: the photo's, or that of what is made in its place; that of its camera
/// where there is neither. 0 × 0: there is none.
Result<std::pair<int, int>> nativeSize(const Shot& shot, AssetStore& assets);
/// What will be written, in a line: "PNG, 8 bit, on nothing, 1080 × 1080 of Square".
std::string describe(const Deliverable& deliverable, const FramedArea& frame);
/// Bytes that the files come to at most, roughly.
size_t bytesOnDisk(const std::vector<OutputPlan>& plans, size_t passes);

}  // namespace dusk
