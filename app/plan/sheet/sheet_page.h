// A setup sheet in and out: the paper on the left, its fields on the right, taken over as one edit or filled in and
// saved.
#pragma once

#include <functional>

#include <QFrame>

#include "app/plan/sheet/sheet_model.h"
#include "app/plan/sheet/sheet_view.h"

class QCheckBox;
class QLabel;
class QPushButton;
class QTableView;

namespace lowkite::app {

class Segmented;

class SheetPage : public QFrame {
  Q_OBJECT
 public:
  explicit SheetPage(PlanModel& model, QWidget* parent = nullptr);

  [[nodiscard]] SheetWork& work() { return work_; }
  /// Replaced by tests: no dialog there.
  std::function<QString()> askSheetPath;
  std::function<QString(const QString& suggestion)> askFilledPath;

 Q_SIGNALS:
  void told(const QString& news);
  void failed(const lowkite::Fault& fault);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void tell();
  void choose(int field);
  /// The next field that wants an eye: refused, rounded or against the model; -1: none does.
  [[nodiscard]] int nextQuestion() const;

  SheetWork work_;
  SheetModel* rows_;
  SheetView* view_;
  QTableView* table_;
  QLabel* news_;
  Segmented* rest_;
  QCheckBox* onlyFilled_;
  QPushButton* next_;
  QPushButton* take_;
  QPushButton* fill_;
};

}  // namespace lowkite::app
