#pragma once
#include <QObject>
#include <QVariant>
#include <span>

namespace dusk {

/// What a person sets once for all projects; kept in the person's own settings. One table says what there is.
enum class PreferenceKind { choice, number, yesNo, folder, file };

struct Preference {
  const char *key, *page, *label, *tip;
  PreferenceKind kind;
  QVariant usual;
  double low = 0, high = 0;  ///< of numbers; `low` may have words of its own
  const char* unit = "";
  QString words{};  ///< of choices: all of them, parted by "|"; of numbers: what `low` is called; of files: a
                    ///< line for the dialog that says which
};
std::span<const Preference> preferences();
/// The pages, in their order.
QStringList preferencePages();

class Preferences : public QObject {
  Q_OBJECT
 public:
  /// The person's, of this program; on the interface's thread.
  static Preferences& own();

  QVariant value(const QString& key) const;
  int number(const QString& key) const { return value(key).toInt(); }
  /// Kept at once; what is out of range is brought into it.
  void set(const QString& key, const QVariant& value);
  void reset(const QString& page);

 signals:
  void changed(const QString& key);
};

/// What an asset store of a new project may hold.
size_t assetBudgetBytes();

}  // namespace dusk
