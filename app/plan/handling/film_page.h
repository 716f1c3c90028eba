// One corner as a small film from above: the car on its line with what its wheels do, the pinned baseline as a ghost.
// It goes by the place along the line, not by the clock: nothing here is a time.
#pragma once

#include <memory>
#include <optional>

#include <QTimer>
#include <QWidget>

#include "app/background/in_background.h"
#include "app/plan/handling/handling_study.h"
#include "core/handling/corner_film.hpp"

class QLabel;
class QPushButton;
class QSlider;
class QTableWidget;

namespace lowkite::app {

/// What is shown: the corner driven by the car put back and, where that differs, by the baseline.
struct FilmPair {
  CornerLine line;
  std::shared_ptr<const SetupTable> before, after;
  std::optional<CornerFilm> film_before;
  CornerFilm film_after;
};

/// The drawing.
class FilmView : public QWidget {
  Q_OBJECT
 public:
  explicit FilmView(QWidget* parent);
  void show(std::shared_ptr<const FilmPair> films);
  /// Greyed: of the change before.
  void setStale(bool stale);
  /// Metres along the line.
  void setPlace(double along_m);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paintMap(class QPainter& p, const QRectF& area) const;
  void paintCar(class QPainter& p, const QRectF& area) const;

  std::shared_ptr<const FilmPair> films_;
  double along_ = 0.0;
  bool stale_ = false;
};

class FilmPage : public QWidget {
  Q_OBJECT
 public:
  explicit FilmPage(QWidget* parent);
  /// Drives the corner anew, on the tyre in the middle of the study's.
  void drive(const HandlingStudy& study);
  void clear();
  void giveUp();
  [[nodiscard]] bool busy() const { return work_.busy(); }
  [[nodiscard]] const FilmPair* films() const { return films_.get(); }

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  void showPlace();
  void play(bool on);
  [[nodiscard]] double along() const;

  InBackground work_;
  std::shared_ptr<const FilmPair> films_;
  FilmView* view_;
  QLabel* where_;
  QLabel* news_;
  QTableWidget* table_;
  QSlider* place_;
  QPushButton* play_;
  QTimer clock_;
};

}  // namespace lowkite::app
