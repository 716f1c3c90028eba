// The lines of an order: each a figure that is wanted at a value or held, with how near is near enough; or something
// that the driver is to feel more or less of than in the baseline. A figure of both axles may be asked for alike.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include <QWidget>

#include "core/plan/aims.hpp"
#include "core/plan/wishes.hpp"

class QComboBox;
class QDoubleSpinBox;
class QToolButton;
class QVBoxLayout;

namespace lowkite::app {

class ToeSpin;

/// What a line may ask of: a figure where it stands, or one of both axles, front and rear alike.
struct AimPlace {
  FigurePlace place;
  bool alike = false;
};

class AimLines : public QWidget {
  Q_OBJECT
 public:
  /// What a figure is now; none: it has no value on this car.
  using Present = std::function<std::optional<double>(const FigurePlace&)>;
  explicit AimLines(Present present, QWidget* parent = nullptr);

  static constexpr int most = 12;  ///< as many as there are wishes
  [[nodiscard]] int count() const { return static_cast<int>(lines_.size()); }
  /// What may be asked, in the order of the lists; `felt`: what the driver feels, too. The lines keep their figures
  /// where they are still among them.
  void setPlaces(std::vector<AimPlace> places, bool felt);
  /// One more line, held; the first is wanted. Nothing where there are as many as may be.
  void add();
  void keepFirst(int n);
  /// At most so many px are kept for the name of a figure; less where it is short.
  void giveFigures(int width);
  /// Sets one line; lines are made as needed.
  void set(int line, std::string_view figure, End end, bool hold, double value, double tolerance);
  void setAlike(int line, std::string_view figure, bool hold, double tolerance);
  void setWish(int line, const HandlingWish& wish);
  [[nodiscard]] std::vector<RecipeAim> aims() const;
  /// Of the lines that are about what is felt, in their order.
  [[nodiscard]] std::vector<HandlingWish> wishes() const;

  [[nodiscard]] bool asksOfSprings() const;
  /// Lines of the car on its springs say what is now, in another turn; what has been typed stays.
  void readSpringsAgain();

  /// The racer has touched them since the places were set.
  [[nodiscard]] bool edited() const { return edited_; }
  void forgetEdits() { edited_ = false; }

 Q_SIGNALS:
  void changed();

 private:
  struct Line {
    QWidget* box = nullptr;
    QToolButton* hold = nullptr;
    QComboBox* figure = nullptr;
    QComboBox* wish = nullptr;  ///< in place of value and tolerance where the line is about what is felt
    ToeSpin* value = nullptr;
    double asRead = 0.0;  ///< the value as it was last read off the car
    QDoubleSpinBox* tolerance = nullptr;
    QToolButton* away = nullptr;
  };
  void remove(QWidget* box);
  void nameLines();
  void fillFigures(Line& row);
  void figureChosen(Line& row);
  [[nodiscard]] std::optional<AimPlace> chosen(const Line& row) const;
  /// The line of that number, made if need be; the last there may be where it is beyond.
  Line& made(int line);

  Present present_;
  QVBoxLayout* column_;
  int figureWidth_ = 190;  ///< px
  std::vector<Line> lines_;
  std::vector<AimPlace> places_;
  bool felt_ = false;
  bool edited_ = false;
};

}  // namespace lowkite::app
