// What racers usually have, beside figures and targets: by the car's class and the surface that was chosen here.
#pragma once

#include <optional>

#include <QObject>
#include <QString>

#include "core/advice/usual.hpp"

namespace lowkite::app {

class UsualRanges : public QObject {
  Q_OBJECT
 public:
  explicit UsualRanges(QObject* parent = nullptr);

  /// The racer's own file, read once at the start; it need not be there.
  [[nodiscard]] static QString ownPath();
  /// What is wrong with it; empty: nothing. The shipped ranges hold then.
  [[nodiscard]] const QString& fault() const { return fault_; }
  [[nodiscard]] const UsualBook& book() const { return book_; }
  /// Whose ranges are told for this car: the racer's choice, or the first that the book has. Unknown: none.
  [[nodiscard]] Surface surface(const Car& car) const;
  void setSurface(Surface surface);
  /// Copies the shipped ranges into the racer's own file, if there is none. A sentence when it cannot.
  QString makeOwn();
  /// nullptr: nothing is usual, or nobody says.
  [[nodiscard]] const UsualRange* find(const Car& car, End end, const FigureSpec& figure) const;

 Q_SIGNALS:
  void changed();

 private:
  UsualBook book_;
  QString fault_;
  std::optional<Surface> surface_;  ///< none: never chosen
};

}  // namespace lowkite::app
