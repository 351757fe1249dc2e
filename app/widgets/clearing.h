#pragma once

class QLineEdit;

namespace dusk {

/// A field to find things by gets a button that empties it, with a name and a hint: the toolkit's has
/// neither.
void offerClearing(QLineEdit& field);

}  // namespace dusk
