#include "batch/answers.h"

namespace dusk::batch {
namespace {

constexpr AnswerKey ofProject[] = {
    {"kind", "text", "\"project\""},
    {"name", "text", ""},
    {"products", "whole number", "how many"},
    {"surfaces", "whole number", "how many"},
    {"shots[].id", "text", "what --shot takes"},
    {"shots[].name", "text", "what --shot takes, too"},
    {"shots[].solved", "yes or no", "its camera is found"},
    {"shots[].plate", "text", "the photo's path; empty: none"},
    {"shots[].placements", "whole number", "products that stand in it"},
    {"shots[].deliverables", "whole number", "files it asks for"},
};
constexpr AnswerKey ofModel[] = {
    {"kind", "text", "\"model\""},
    {"parts", "whole number", "how many"},
    {"triangles", "whole number", "of all parts"},
    {"true_size_m", "list", "width, depth, height in metres"},
    {"metres_per_unit", "number", "of the file's own unit"},
    {"missing[]", "text", "pictures and materials that it names and that are not there, or cannot be read"},
    {"unit", "text", "how that is known"},
    {"part_list[].path", "text", "what surfaces are given by"},
    {"part_list[].name", "text", ""},
    {"part_list[].material", "text", "as the file calls it"},
    {"part_list[].triangles", "whole number", ""},
    {"part_list[].size_m", "list", "along the model's axes, in metres"},
};
constexpr AnswerKey ofPicture[] = {
    {"kind", "text", "\"picture\""},
    {"format", "text", ""},
    {"width", "whole number", "px"},
    {"height", "whole number", "px"},
    {"channels", "whole number", ""},
    {"focal_mm", "number", "as EXIF says"},
    {"focal_mm_35", "number", "as of a frame 36 mm wide"},
    {"exposure_s", "number", ""},
    {"f_number", "number", ""},
    {"iso", "number", ""},
    {"camera", "text", ""},
    {"range_ev", "number", "of a panorama or a picture in scene light"},
    {"clipped_share", "number", "of a panorama: share of its pixels"},
    {"low_range", "yes or no", "of a panorama: it cannot hold a sun"},
    {"brightest_over_mean", "number", "of a panorama"},
};
constexpr AnswerKey ofDrawing[] = {
    {"kind", "text", "\"drawing\": an SVG or a PDF, that surfaces can show"},
    {"size_mm", "list", "width and height of its first page"},
};
constexpr AnswerKey ofFilm[] = {
    {"kind", "text", "\"film\""},
    {"codec", "text", ""},
    {"width", "whole number", "px"},
    {"height", "whole number", "px"},
    {"pictures", "whole number", "how many"},
    {"pictures_per_second", "number", ""},
    {"primaries", "text", "colour, as it is tagged"},
    {"transfer", "text", "curve, as it is tagged"},
    {"matrix", "text", "brightness and colour, as it is tagged"},
};
constexpr AnswerKey ofVantage[] = {
    {"solved", "yes or no", ""},
    {"advice[]", "text", "what would make it surer"},
    {"items[].what", "text", "a piece of evidence: stroke, pin, length"},
    {"items[].id", "text", ""},
    {"items[].rms_px", "number", "how far it is off the camera"},
    {"items[].outlier", "yes or no", "it says otherwise than the rest"},
    {"image.width", "whole number", "px"},
    {"image.height", "whole number", "px"},
    {"focal_px", "number", "focal length in pixels"},
    {"focal_mm_35", "number", "as of a frame 36 mm wide"},
    {"cx", "number", "optical axis, px from the left"},
    {"cy", "number", "optical axis, px from above"},
    {"k1", "number", "Brown-Conrady, undistorted to distorted"},
    {"k2", "number", "Brown-Conrady, undistorted to distorted"},
    {"world_from_camera", "list", "4 x 4, by rows; x right, y down, z forward; metres"},
    {"tilt_degrees", "number", ""},
    {"roll_degrees", "number", ""},
    {"sigma.focal_px", "number", "one-sigma margin"},
    {"sigma.focal_mm_35", "number", "one-sigma margin"},
    {"sigma.tilt_degrees", "number", "one-sigma margin"},
    {"sigma.roll_degrees", "number", "one-sigma margin"},
    {"sigma.height_m", "number", "one-sigma margin"},
    {"sigma.k1", "number", "one-sigma margin"},
    {"sigma.k2", "number", "one-sigma margin"},
    {"rms_px", "number", "how far the evidence is off the camera"},
    {"scale_known", "yes or no", "else the camera is taken to be 1.5 m above the ground"},
    {"footprint_size_m", "list", "along a and b, in metres"},
};
constexpr AnswerKey ofProve[] = {
    {"[].id", "text", "of the proof"},
    {"[].what", "text", "what is measured"},
    {"[].value", "number", ""},
    {"[].low", "number", "the least that holds"},
    {"[].high", "number", "the most that holds"},
    {"[].unit", "text", ""},
    {"[].ok", "yes or no", "it holds"},
    {"[].remedy", "text", "how it is put right"},
    {"[].station", "text", "where"},
    {"[].canMend", "yes or no", "the program can do it"},
    {"[].says", "text", "what a client would say"},
    {"[].at", "list", "where in the picture, px"},
};
constexpr AnswerKey ofProveAll[] = {
    {"variants[].variant", "text", "its options, as they are named"},
    {"variants[].holds", "yes or no", "every proof of it does"},
    {"variants[].proofs[]", "any", "as of one"},
};
constexpr AnswerKey ofThumbnail[] = {
    {"file", "text", ""}, {"width", "whole number", "px"}, {"height", "whole number", "px"}};
constexpr AnswerKey ofMatch[] = {
    {"shot", "text", "its id"},
    {"flatPlaces", "whole number", "places that grain was measured in"},
    {"blocking", "number", "steps at the borders of JPEG blocks against those within"},
    {"rows[].what", "text", "what is measured"},
    {"rows[].unit", "text", ""},
    {"rows[].photo", "any", "number, or null: it cannot be measured"},
    {"rows[].margin", "number", "one sigma"},
    {"rows[].product", "number", "as the project has it"},
    {"rows[].matched", "number", "as -o writes it"},
    {"grain.sigmaByCode", "list", "R, G, B in 8-bit codes, at code values evenly from 0 to 255"},
    {"grain.correlation", "list", "9 x 9 neighbours, by rows"},
    {"edgeSigmaPx", "list", "blur of edges in R, G, B"},
    {"edges", "whole number", "that was measured at"},
    {"project", "text", "the file -o wrote"},
};
constexpr AnswerKey ofGather[] = {{"files", "whole number", "copied"},
                                  {"project", "text", ""},
                                  {"notes[]", "text", "what is not as it was"}};
constexpr AnswerKey ofDress[] = {{"file", "text", ""},
                                 {"parts", "whole number", ""},
                                 {"pictures", "whole number", "baked or copied"},
                                 {"notes[]", "text", "what glTF has no word for"}};
constexpr AnswerKey ofRender[] = {
    {"shot", "text", "its id"},
    {"variant", "text", "the options chosen; of render alone"},
    {"files[]", "text", "written"},
    {"width", "whole number", "px"},
    {"height", "whole number", "px"},
    {"samples", "whole number", "a pixel had at most"},
    {"noise", "number", "error over brightness, before it is taken out"},
    {"seconds", "number", ""},
    {"emptyPasses[]", "text", "left out of EXRs, with nothing in them"},
    {"notes[]", "text", "what the person should know"},
};
constexpr AnswerKey ofPart[] = {{"part", "text", "the file that merge takes"},
                                {"samples", "whole number", "in it"}};
constexpr AnswerKey ofFilmMade[] = {
    {"shot", "text", "its id"},
    {"variant", "text", "the options chosen"},
    {"files[]", "text", "written"},
    {"pictures", "whole number", "in the film"},
    {"traced", "whole number", "of them in this run"},
    {"width", "whole number", "px"},
    {"height", "whole number", "px"},
    {"samples", "whole number", "a pixel had at most"},
    {"seconds", "number", ""},
    {"notes[]", "text", "what the person should know"},
};
constexpr AnswerKey ofJobs[] = {{"jobs[]", "text", "their numbers"}};
constexpr AnswerKey ofQueue[] = {
    {"done", "whole number", "jobs; of run alone"},
    {"failed", "whole number", "jobs; of run alone"},
    {"stopped", "yes or no", "a proof that was off stopped it; of run alone"},
    {"jobs[].job", "text", "its number"},
    {"jobs[].name", "text", ""},
    {"jobs[].state", "text", "\"waiting\", \"working\", \"paused\", \"done\" or \"failed\""},
    {"jobs[].done", "number", "0 to 1"},
    {"jobs[].secondsLeft", "number", "below 0: not known"},
    {"jobs[].seconds", "number", "worked on so far"},
    {"jobs[].folder", "text", "for its files"},
    {"jobs[].files[]", "text", "written"},
    {"jobs[].message", "text", "why it failed, or what its proofs say"},
};
constexpr AnswerKey ofSubmit[] = {{"folder", "text", "what the other farm verbs take"},
                                  {"array", "text", "Slurm's number of the parts"},
                                  {"merge", "text", "Slurm's number of the job after them"},
                                  {"parts", "whole number", ""}};
constexpr AnswerKey ofFarm[] = {
    {"folder", "text", ""},
    {"parts[]", "text", "\"waiting\", \"working\", \"done\", \"lost\" or \"held\""},
    {"fractions[]", "number", "0 to 1, of each part"},
    {"done", "whole number", "parts"},
    {"lost", "whole number", "parts"},
    {"submittedAgain", "whole number", "parts, by this call"},
    {"merged", "yes or no", "the files are there"},
    {"files[]", "text", ""},
};
constexpr AnswerKey ofMergedLight[] = {
    {"file", "text", ""},
    {"width", "whole number", "px"},
    {"height", "whole number", "px"},
    {"range_ev", "number", ""},
    {"ghost_share", "number", "of pixels where something moved"},
    {"shifts_px[]", "list", "of each photo against the first"},
    {"response_log2[]", "list", "log2 of light by code, of R, G, B"},
};
constexpr AnswerKey ofWatch[] = {{"photos", "whole number", "in the set"},
                                 {"complete", "yes or no", ""},
                                 {"file", "text", "merged; empty: none"}};
constexpr AnswerKey ofAlign[] = {
    {"turn_deg", "number", "clockwise from above, after mirroring"},
    {"mirrored", "yes or no", ""},
    {"tilt_deg", "number", "how its upright leans towards +Y, before the turn"},
    {"roll_deg", "number", "and before that towards +X"},
    {"score", "number", "how well it agrees, up to 1"},
    {"gain_ev", "number", "that its light is brighter by in the photo"},
    {"white", "list", "its light times this, per channel"},
    {"capture_m", "list", "where it was taken, in metres"},
    {"ambiguous", "yes or no", "another answer cannot be excluded"},
    {"elsewhere", "yes or no", "nothing of the photo is found in the panorama"},
    {"turn_sigma_deg", "number", "one-sigma margin"},
    {"peaks[].turn_deg", "number", "of the rivals, the best first"},
    {"peaks[].mirrored", "yes or no", ""},
    {"peaks[].tilt_deg", "number", ""},
    {"peaks[].roll_deg", "number", ""},
    {"peaks[].score", "number", ""},
    {"peaks[].gain_ev", "number", ""},
    {"peaks[].white", "list", ""},
    {"peaks[].capture_m", "list", ""},
};
constexpr AnswerKey ofSun[] = {{"azimuth_deg", "number", "clockwise from the panorama's middle"},
                               {"elevation_deg", "number", ""},
                               {"irradiance", "list", "of a surface that faces it, R, G, B"},
                               {"share", "number", "of all the panorama's light"}};
constexpr AnswerKey ofShadow[] = {
    {"shot", "text", "its id"},
    {"marked", "yes or no", "the gnomon was marked; else it was found"},
    {"azimuth_deg", "number", "of the sun, clockwise from +Y"},
    {"azimuth_sigma_deg", "number", "one-sigma margin"},
    {"elevation_deg", "number", "of the sun"},
    {"elevation_sigma_deg", "number", "one-sigma margin"},
    {"left", "list", "share of light that the shadow leaves, R, G, B"},
    {"irradiance", "list", "of the ground by the sun, R, G, B"},
    {"panorama_gives", "number", "share of that which the panorama's own sun has"},
    {"margin_ev", "number", "one sigma"},
    {"missing", "list", "irradiance that it lacks, R, G, B"},
    {"lamp_ev", "number", "of the sun lamp that makes up for it"},
    {"project", "text", "the file -o wrote"},
};
constexpr AnswerKey ofVariants[] = {
    {"axes[].id", "text", ""},
    {"axes[].name", "text", ""},
    {"axes[].options[].id", "text", ""},
    {"axes[].options[].name", "text", ""},
    {"axes[].options[].changes[]", "text", "what is otherwise then, in words"},
    {"variants[]", "text", "every one that may be"},
    {"count", "any", "of those; a sentence where there are too many"},
};
constexpr AnswerKey ofTaken[] = {{"file", "text", ""}, {"axes", "whole number", ""}};
constexpr AnswerKey ofFurnish[] = {
    {"file", "text", ""}, {"set", "text", ""}, {"placed", "whole number", "things that stand in the shot"}};
constexpr AnswerKey ofShelf[] = {
    {"shelf", "text", "its title"},
    {"offline", "text", "why it could not be asked, and is told as it last was; else empty"},
    {"entries[].id", "text", "what fetch takes"},
    {"entries[].kind", "text", "\"panorama\" or \"surface\""},
    {"entries[].title", "text", ""},
    {"entries[].author", "text", ""},
    {"entries[].licence", "text", ""},
    {"entries[].bytes", "whole number", "to be fetched"},
    {"entries[].fetched", "yes or no", "it is here"},
};
constexpr AnswerKey ofFetch[] = {{"file", "text", ""}, {"licence", "text", ""}, {"author", "text", ""}};

constexpr AnswerTable tables[] = {
    {"info", "a project", ofProject},
    {"info", "a model", ofModel},
    {"info", "a picture", ofPicture},
    {"info", "a drawing", ofDrawing},
    {"info", "a film", ofFilm},
    {"vantage", "", ofVantage},
    {"prove", "a shot", ofProve},
    {"prove", "--variant all", ofProveAll},
    {"thumbnail", "", ofThumbnail},
    {"match", "", ofMatch},
    {"gather", "", ofGather},
    {"dress", "", ofDress},
    {"render", "a shot; several are in \"shots\"", ofRender},
    {"render", "--part", ofPart},
    {"film", "a film; several are in \"films\"", ofFilmMade},
    {"merge", "", ofRender},
    {"queue add", "", ofJobs},
    {"queue pause", "", ofJobs},
    {"queue resume", "", ofJobs},
    {"queue remove", "", ofJobs},
    {"queue run", "", ofQueue},
    {"queue list", "", ofQueue},
    {"queue move", "", ofQueue},
    {"queue watch", "", ofQueue},
    {"farm submit", "", ofSubmit},
    {"farm status", "", ofFarm},
    {"farm collect", "", ofFarm},
    {"farm pause", "", ofFarm},
    {"farm resume", "", ofFarm},
    {"panorama merge", "", ofMergedLight},
    {"panorama watch", "each set", ofWatch},
    {"panorama align", "", ofAlign},
    {"panorama sun", "", ofSun},
    {"panorama shadow", "", ofShadow},
    {"variants list", "", ofVariants},
    {"variants take", "", ofTaken},
    {"furnish", "", ofFurnish},
    {"shelf list", "", ofShelf},
    {"shelf fetch", "", ofFetch},
};

}  // namespace

std::span<const AnswerTable> answerTables() { return tables; }

std::string answerHelp(const std::string& verb) {
  std::string text;
  for (const AnswerTable& table : tables) {
    if (table.verb != verb) continue;
    text += (text.empty() ? "With --json" : "\nWith --json") + std::string(*table.of ? ", of " : "") +
            table.of + ":";
    for (const AnswerKey& key : table.keys) {
      text += "\n  " + std::string(key.name);
      text.append(std::max(1, 28 - int(std::string(key.name).size())), ' ');
      text += key.kind + std::string(*key.what ? ": " : "") + key.what;
    }
  }
  return text;
}

}  // namespace dusk::batch
