#pragma once
#include <QString>

#include "app/document/session.h"
#include "app/preview/preview.h"

namespace dusk {

/// How far the work of a station is, and its one measured figure.
struct StationStatus {
  enum class State { untouched, begun, off, proved } state = State::untouched;
  QString figure;
  bool operator==(const StationStatus&) const = default;
};

/// What a status is read from.
struct StatusInput {
  const Session& session;
  const Proofs* proofs = nullptr;  ///< of the picture on screen; may be absent
  int samples = 0, wanted = 0;     ///< of the picture on screen
  int delivered = 0;               ///< files written of this shot, since it was opened
  const Shot& shot() const { return session.shot(); }
  const Finding* finding(const char* id) const { return proofs ? proofs->find(id) : nullptr; }
};

StationStatus plateStatus(const StatusInput&);
StationStatus vantageStatus(const StatusInput&);
StationStatus productStatus(const StatusInput&);
StationStatus surfaceStatus(const StatusInput&);
StationStatus lightStatus(const StatusInput&);
StationStatus contactStatus(const StatusInput&);
StationStatus renderStatus(const StatusInput&);
StationStatus blendStatus(const StatusInput&);
StationStatus deliverStatus(const StatusInput&);

}  // namespace dusk
