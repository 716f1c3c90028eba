// What can be adjusted on the car: every part with its real steps, in the racer's order, and new ones described.
#pragma once

#include <memory>
#include <optional>

#include <QWidget>

#include "app/car/car_editor.h"

class QListWidget;
class QPushButton;
class QStackedWidget;

namespace lowkite::app {

class FieldModel;
class PartAssistant;

class AdjusterPage : public QWidget {
  Q_OBJECT
 public:
  explicit AdjusterPage(CarEditor& editor, QWidget* parent = nullptr);

  [[nodiscard]] PartAssistant& assistant() { return *assistant_; }
  void refresh();

 Q_SIGNALS:
  void told(const QString& news);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  QWidget* makeList();
  /// The adjuster that is chosen in the list, if one is; below them stands what has no positions.
  [[nodiscard]] PartHandle shown() const;
  [[nodiscard]] std::optional<Fitting> shownFitting() const;  ///< a copy: they are found anew while it is told of
  void remove();
  void showSpots();
  void makePickable();
  /// The next of these rows, so that clicking again takes what lies behind.
  void choose(const std::vector<int>& rows);
  void changeShown(const std::function<bool(Json&, PartHandle)>& change, const QString& what, const QString& refusal);

  CarEditor& editor_;
  std::vector<Fitting> fittings_;
  std::shared_ptr<const Car> pickableFor_;
  QStackedWidget* pages_ = nullptr;
  QListWidget* list_ = nullptr;
  FieldModel* fields_ = nullptr;
  PartAssistant* assistant_ = nullptr;
  QPushButton* add_ = nullptr;
  QPushButton* up_ = nullptr;
  QPushButton* down_ = nullptr;
  QPushButton* more_ = nullptr;
  QPushButton* fewer_ = nullptr;
  QPushButton* remove_ = nullptr;
};

}  // namespace lowkite::app
