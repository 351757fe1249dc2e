#pragma once

class QListWidget;

namespace dusk {

/// A list of lines of text in a desk: as high as they are, up to so many of them, which then scroll.
void fitToRows(QListWidget& list, int most = 4);

}  // namespace dusk
