#include "app/stations/deliver/delivery.h"

#include "app/stations/workbench.h"
#include "core/base/installed.h"
#include "core/base/words.h"
#include "core/deliver/farm_list.h"
#include "core/deliver/film.h"
#include "core/deliver/names.h"
#include "core/deliver/output_plan.h"
#include "core/deliver/queue.h"
#include "core/motion/at.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/hand_over_edit.h"
#include "core/variant/apply.h"

namespace dusk {
namespace {

using Files = std::vector<std::filesystem::path>;
void write(Workbench& bench, const QString& folder, IfThere ifThere);

/// What is to become of files of the same names that were there.
void ask(Workbench& bench, const QString& folder, const Files& taken) {
  QStringList names;
  for (const auto& file : taken) names << QString::fromStdString(file.filename().string());
  const bool one = names.size() == 1;
  emit bench.asked(QString(words("%1 is there already, and was not made of this shot.",
                                 "%1 are there already, and were not made of this shot.", long(names.size())))
                       .arg(names.join(", ")),
                   {{one ? words("Replace it") : words("Replace them"), words("What was there is gone then"),
                     [&bench, folder] { write(bench, folder, IfThere::replace); }},
                    {words("Keep both"), words("The new ones get a number"),
                     [&bench, folder] { write(bench, folder, IfThere::keepBoth); }}});
}

/// What is there already under the names of what would be written, and was not made of this shot.
Files takenBy(const Project& project, size_t shot, const AssetStore& assets, DeliverOptions options) {
  const Camera& camera = project.shots[shot].vantage.camera;
  const auto taken = [&] {
    return takenNames(project, project.shots[shot], assets, options, camera.width, camera.height);
  };
  Files all = taken();
  options.picture = 0;  // films, and the first picture of sequences
  const Files films = taken();
  all.insert(all.end(), films.begin(), films.end());
  return all;
}

/// What came of it: files, or nothing but what is in their way.
struct Written {
  DeliverReport report;
  Files taken{};
};

void write(Workbench& bench, const QString& folder, IfThere ifThere) {
  Session& session = bench.session;
  const Motion& motion = session.shot().motion;
  if (moves(session.shot()) && wantsStill(session.shot()) &&
      std::abs(session.moment() - motion.stillAtSeconds) * motion.picturesPerSecond > 0.5)
    session.say(
        QString(
            words("Single pictures show the moment %1 s, not the one in hand; in the Motion drawer, More has "
                  "another for them."))
            .arg(motion.stillAtSeconds, 0, 'f', 2));
  FilmOptions options;
  options.each.folder = folder.toStdString(), options.each.ifThere = ifThere;
  bench.preview.hold(Preview::Hold::delivery,
                     true);  // both cores for the files; the picture still follows edits
  bench.jobs.run<Written>(
      {words("Writing the files of ") + QString::fromStdString(session.shot().name), deliveryKey,
       Lane::outgoing},
      [project = session.base(), asShown = session.project(), index = session.shotIndex(),
       assets = session.assets(), cache = session.geometry(),
       options](Progress& progress) -> Result<Written> {
        // The folder may lie on a disk that takes its time.
        if (options.each.ifThere == IfThere::refuse)
          if (Files taken = takenBy(asShown, index, *assets, options.each); !taken.empty())
            return Written{{}, std::move(taken)};
        auto report = handOver(project, index, *assets, *cache, options, progress);
        if (!report) return report.error();
        return Written{std::move(*report)};
      },
      [&bench, folder](const Written& written) {
        if (!written.taken.empty()) return ask(bench, folder, written.taken);
        const DeliverReport& report = written.report;
        QStringList names;
        constexpr size_t most = 12;  // a sequence has hundreds
        for (const auto& file : report.files)
          if (names.size() < int(most)) names << QString::fromStdString(file.string());
        if (report.files.size() > most)
          names << QString(words("and %1 more")).arg(report.files.size() - most);
        const bool traced = report.samples > 0;  // a scene alone is not
        bench.session.say((traced ? QString(words("Written, %1 × %2, %3 samples:"))
                                        .arg(report.width)
                                        .arg(report.height)
                                        .arg(report.samples)
                                  : QString(words("Written:"))) +
                          "\n" + names.join("\n"));
        for (const std::string& note : report.notes) bench.session.say(QString::fromStdString(note), true);
        emit bench.delivered(int(report.files.size()));
      },
      [&bench](const Error& error) {
        if (error.kind != ErrorKind::cancelled)
          bench.session.say(QString::fromStdString(error.message), true);
        emit bench.delivered(0);
      });
}

Order orderOf(const Session& session, const Project& shown, size_t shot, const QString& folder) {
  Order order;
  order.project = onlyShot(shown, shown.shots[shot], *session.assets());
  order.folder = folder.toStdString(), order.date = today();
  return order;
}

void queue(Workbench& bench, std::vector<Order> orders) {
  bench.jobs.run<int>(
      {words("Queueing"), "queueing", Lane::outgoing, true},
      [orders](Progress&) -> Result<int> {
        Queue queue(Queue::usualFolder());
        for (const Order& order : orders)
          if (const auto id = queue.add(order); !id) return id.error();
        return int(orders.size());
      },
      [&bench](int& count) {
        bench.session.say(
            QString(words("%1 more job in the queue.", "%1 more jobs in the queue.", count)).arg(count));
        emit bench.queued();
      });
}

}  // namespace

Foreseen foresee(const Session& session, const Deliverable& d) {
  const Shot& shot = session.shot();
  const Camera& camera = shot.vantage.camera;
  const FramedArea frame = framed(shot, d, std::max(1, camera.width), std::max(1, camera.height));
  const auto name =
      fileNameOf(d, {session.project().name, shot.name, variantName(session.project(), shot.choice),
                     frame.name, today(), frame.width, frame.height, shot.handOver.version,
                     infoOf(d.kind).isFilm ? std::string() : pictureNumber(0)});
  return {
      QString::fromStdString(name ? *name : name.error().message),
      camera.width > 0 ? QString::fromStdString(describe(d, frame)) : QString(words(infoOf(d.kind).title))};
}

void giveToFarm(Workbench& bench, const QString& folder, int parts) {
  const Session& session = bench.session;
  const Order order = orderOf(session, session.project(), session.shotIndex(), folder);
  bench.jobs.run<int>(
      {QString(words("Giving %1 to the farm")).arg(QString::fromStdString(session.shot().name)), "farm",
       Lane::outgoing},
      [order, parts](Progress& progress) -> Result<int> {
        const auto job = submitToFarm(order, parts, headlessProgram(), progress);
        if (!job) return job.error();
        const Outcome listed = FarmList(Queue::usualFolder()).add(*job);
        return listed ? Result<int>(job->parts) : Result<int>(listed.error());
      },
      [&bench](int& count) {
        bench.session.say(QString(words("Given to the farm, in %1 parts.")).arg(count));
        emit bench.queued();
      });
}

void deliverInto(Workbench& bench, const QString& folder) { write(bench, folder, IfThere::refuse); }

void queueInto(Workbench& bench, const QString& folder, bool allShots) {
  const Session& session = bench.session;
  const Project& base = session.base();
  std::vector<Order> orders;
  for (size_t i = 0; i < base.shots.size(); ++i) {
    if (!allShots && i != session.shotIndex()) continue;
    orders.push_back(orderOf(session, base, i, folder));
    if (allShots && base.shots.size() > 1) orders.back().folder /= base.shots[i].id;
  }
  queue(bench, std::move(orders));
}

void queueVariants(Workbench& bench, const QString& folder, const std::vector<VariantChoice>& choices) {
  const Session& session = bench.session;
  std::vector<Order> orders;
  for (const VariantChoice& choice : choices) {
    Project chosen = session.base();
    Shot& shot = chosen.shots[session.shotIndex()];
    shot.choice = choice;
    nameByVariant(shot);
    orders.push_back(orderOf(session, chosen, session.shotIndex(), folder));
  }
  queue(bench, std::move(orders));
}

}  // namespace dusk
