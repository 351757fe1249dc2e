#pragma once
#include <QRect>
#include <QString>
#include <functional>
#include <string>

class QWidget;

namespace dusk {

/// A name typed over what shows it, at a place in that: Return, or going elsewhere, hands it to `then` where
/// it is another; Escape leaves it as it was.
void typeName(QWidget* over, const QRect& at, const QString& now, const QString& what,
              std::function<void(const std::string&)> then);

}  // namespace dusk
