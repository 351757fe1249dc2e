#include "app/stations/deliver/delivery.h"

#include "app/stations/workbench.h"
#include "core/deliver/deliver.h"

namespace dusk {

void deliverInto(Workbench& bench, const QString& folder) {
  Session& session = bench.session;
  DeliverOptions options;
  options.folder = folder.toStdString();
  bench.preview.setPaused(true);  // both cores for the files; the picture still follows edits
  bench.jobs.run<DeliverReport>(
      {"Writing the files of " + QString::fromStdString(session.shot().name), deliveryKey, Lane::outgoing},
      [project = session.project(), index = session.shotIndex(), assets = session.assets(),
       cache = session.geometry(),
       options](Progress& progress) { return deliver(project, index, *assets, *cache, options, progress); },
      [&bench](DeliverReport& report) {
        QStringList names;
        for (const auto& file : report.files) names << QString::fromStdString(file.string());
        bench.session.say(QString("Written, %1 × %2, %3 samples:\n%4")
                              .arg(report.width)
                              .arg(report.height)
                              .arg(report.samples)
                              .arg(names.join("\n")));
        for (const std::string& note : report.notes) bench.session.say(QString::fromStdString(note), true);
        emit bench.delivered(int(report.files.size()));
      },
      [&bench](const Error& error) {
        if (error.kind != ErrorKind::cancelled)
          bench.session.say(QString::fromStdString(error.message), true);
        emit bench.delivered(0);
      });
}

}  // namespace dusk
