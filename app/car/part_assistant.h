// A part of one's own car, described in a few answers: what it is, where it sits, its sizes. While they are typed the
// drawing shows where it puts its point, and the line below says what comes of it or what is wrong.
#pragma once

#include <map>
#include <vector>

#include <QWidget>

#include "app/car/car_editor.h"
#include "core/parts/fittings.hpp"

class QComboBox;
class QGridLayout;
class QLabel;
class QPushButton;

namespace lowkite::app {

class PartAssistant : public QWidget {
  Q_OBJECT
 public:
  explicit PartAssistant(CarEditor& editor, QWidget* parent = nullptr);

  /// Asks anew; a point in hand is the place that is proposed.
  void begin();

 Q_SIGNALS:
  void added(const QString& id);
  void fitted(const QString& form, End end);  ///< what has no positions: a bar, a joint that binds
  void left();

 private:
  void fillForms();
  void fillPlaces();
  /// Rows of questions for the form and place that are chosen. What was typed stays.
  void ask();
  void tell();
  void tellFitting(const Car& car, const PartForm& form, const PartPlace& place);
  void put();
  [[nodiscard]] const PartForm* form() const;
  [[nodiscard]] const PartPlace* place() const;
  [[nodiscard]] std::vector<PartQuestion> answered() const;
  [[nodiscard]] QString toldOf(const Car& car, PartHandle adjuster) const;

  CarEditor& editor_;
  QComboBox* what_ = nullptr;
  QComboBox* where_ = nullptr;
  QLabel* help_ = nullptr;
  QWidget* asks_ = nullptr;
  QLabel* says_ = nullptr;
  QPushButton* put_ = nullptr;
  std::vector<PartPlace> places_;
  std::vector<PartQuestion> questions_;
  std::vector<QWidget*> fields_;  ///< by question
  std::map<std::string, QString> typed_;
};

}  // namespace lowkite::app
