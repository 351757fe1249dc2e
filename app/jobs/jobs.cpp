#include "app/jobs/jobs.h"

#include <QCoreApplication>
#include <algorithm>

#include "app/document/session.h"
#include "core/base/background.h"
#include "core/base/log.h"

namespace dusk {
namespace {

/// "model" of "model /home/someone/gauge.step": reports name no files.
std::string kindOf(const std::string& key) { return key.empty() ? "other" : key.substr(0, key.find(' ')); }

}  // namespace

Jobs::Jobs(Session& session) : session_(session) {
  incoming_.setMaxThreadCount(2);
  outgoing_.setMaxThreadCount(1);
  connect(&session_, &Session::documentChanged, this, [this] {
    for (Job* job : jobs_)
      if (job->lane() == Lane::incoming) job->cancel();
  });
}

Jobs::~Jobs() {
  cancelAll();
  incoming_.waitForDone();
  outgoing_.waitForDone();
}

Job& Jobs::add(const Plan& plan) {
  if (Job* before = plan.key.empty() ? nullptr : find(plan.key)) before->cancel();
  auto* job = new Job;
  job->setParent(this);
  job->title_ = plan.title, job->key_ = plan.key, job->lane_ = plan.lane, job->quiet_ = plan.quiet;
  job->document_ = session_.documentNumber();
  jobs_.push_back(job);
  log(LogLevel::news, "began work: " + kindOf(plan.key), plan.title.toStdString());
  emit changed();
  return *job;
}

void Jobs::start(Job& job, std::function<void()> work, std::function<void()> done) {
  pool(job.lane())
      .start([this, job = &job, begun = job.begun_, progress = job.progress_, work = std::move(work),
              done = std::move(done)] {
        giveWay();
        progress->begin();
        *begun = true;
        runInBackground(work);
        QMetaObject::invokeMethod(this, [this, job, done] { end(*job, done); });
      });
}

void Jobs::end(Job& job, const std::function<void()>& done) {
  std::erase(jobs_, &job);
  log(LogLevel::news, (job.isCancelled() ? "cancelled work: " : "ended work: ") + kindOf(job.key_));
  const bool same = job.document_ == session_.documentNumber();
  job.deleteLater();
  // The list first: what is done with the result may begin the next.
  emit changed();
  if (same) done();
}

void Jobs::say(const Error& error) { session_.say(QString::fromStdString(error.message), true); }

Job* Jobs::find(const std::string& key) const {
  const auto found = std::find_if(jobs_.begin(), jobs_.end(),
                                  [&](const Job* j) { return j->key() == key && !j->isCancelled(); });
  return found == jobs_.end() ? nullptr : *found;
}

void Jobs::cancelAll() {
  for (Job* job : jobs_) job->cancel();
}

void Jobs::finish() {
  while (!jobs_.empty()) QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
}

}  // namespace dusk
