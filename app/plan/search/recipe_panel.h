// Recipes: what is wanted of either axle, of the car and of the car on its springs, what the driver wishes, and what is
// held; which parts may be changed; and the ranked lists of steps that do it, or what more work buys. Searched beside
// the window: what few changes can do stands there first.
#pragma once

#include <atomic>
#include <memory>
#include <optional>
#include <set>

#include <QFrame>

#include "app/background/in_background.h"
#include "app/compute/plan_model.h"
#include "core/figures/load_source.hpp"
#include "core/plan/buying.hpp"
#include "core/plan/trade_off.hpp"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QHBoxLayout;
class QLabel;
class QMenu;
class QProgressBar;
class QPushButton;
class QScrollArea;
class QSpinBox;
class QTableWidget;
class QToolButton;

namespace lowkite::app {

class AimLines;
struct AimPlace;
class LineChart;
class MyBoxes;
class TyreChoice;

class RecipePanel : public QFrame {
  Q_OBJECT
 public:
  RecipePanel(PlanModel& model, MyBoxes& boxes, TyreChoice& tyres, QWidget* parent = nullptr);
  ~RecipePanel() override;

  [[nodiscard]] const std::optional<Recipe>& result() const { return result_; }
  /// Two wants against each other, once asked for; gone when something else is searched.
  [[nodiscard]] const std::optional<TradeOff>& tradeOff() const { return tradeOff_; }
  [[nodiscard]] bool busy() const { return cancel_ != nullptr || weighing_.busy(); }
  /// Sets one line of the order; lines are made as needed. Of the axle in hand, unless told otherwise.
  void setAim(int line, std::string_view figure, bool hold, double value, double tolerance,
              std::optional<End> end = std::nullopt);
  /// The same for a figure that is to be alike at both axles.
  void setAlike(int line, std::string_view figure, bool hold, double tolerance);
  /// Asks of the car on its springs under this acceleration (none: as before): roll, the load transfer held, unless a
  /// line asks already; besides what the racer has asked.
  void askOfSprings(const HeldTurn& under);
  [[nodiscard]] HeldTurn under() const;
  /// The same for what the driver wishes.
  void setWish(int line, const HandlingWish& wish);
  /// Wishes in place of what the lines ask.
  void takeWishes(const std::vector<HandlingWish>& wishes, double share);

  /// What would be worth buying for what was asked; empty: nothing, or all was searched.
  [[nodiscard]] const std::vector<WorthBuying>& toBuy() const { return toBuy_; }

 Q_SIGNALS:
  void boxesWanted();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void shareRoom();
  /// What a figure is now, of the car as it stands or on its springs.
  [[nodiscard]] std::optional<double> present(const FigurePlace& place) const;
  [[nodiscard]] std::optional<double> baseline(const FigureSpec& figure) const;
  [[nodiscard]] std::vector<PartHandle> allParts() const;
  [[nodiscard]] std::vector<AimPlace> places() const;
  void linesChanged();
  void tellTyres();
  /// One line of the results: what is done, and what of it is not at hand.
  struct Row {
    RecipeResult result;
    std::vector<Lack> lacks{};
  };
  void fillRows();
  /// Whether what is on show was filled for the car that is open; it is not while another one is being opened.
  [[nodiscard]] bool ofThisCar() const;
  void asInBaseline();
  void startWith(PartHandle adjuster, double value);
  void fillSame();
  /// These parts and no others.
  void letChange(const std::vector<PartHandle>& parts);
  void fillParts();
  void refresh();
  void tellCount();
  [[nodiscard]] std::optional<RecipeOrder> order();
  void search();
  void giveUp();
  void weighWants();
  void takeTradeOff(std::shared_ptr<const Car> car, tl::expected<TradeOff, CarFailure> found);
  void drawTradeOff();
  /// `last`: of all that were asked; before it, with fewer changes at once, while the search goes on.
  void take(std::shared_ptr<const Car> car, tl::expected<Recipe, CarFailure> found, std::vector<WorthBuying> toBuy,
            bool last);
  void fillTable();
  void fitRows();
  void showSteps();
  void tryResult();

  PlanModel& model_;
  QScrollArea* aimScroll_;
  AimLines* lines_;
  QWidget* underRow_;
  QWidget* feltRow_;
  QSpinBox* share_;
  QLabel* feltOver_;
  TurnFields* turn_;
  mutable std::optional<LoadSource> onSprings_;  ///< the setup as it is now, once asked for
  QToolButton* parts_;
  QMenu* partMenu_;
  QMenu* sameMenu_;
  std::set<std::string> forbidden_;  ///< ids of parts that may not be changed
  QComboBox* most_;
  QCheckBox* robust_;
  QDoubleSpinBox* heightLost_;
  QDoubleSpinBox* rodOff_;
  MyBoxes& boxes_;
  TyreChoice& tyres_;
  QCheckBox* boxOnly_;
  QPushButton* search_;
  QProgressBar* progress_;
  QLabel* news_;
  QHBoxLayout* ways_;
  QPushButton* byWork_;
  QPushButton* against_;
  LineChart* chart_;
  QTableWidget* table_;
  QLabel* steps_;
  QPushButton* try_;
  std::optional<Recipe> result_;
  std::optional<TradeOff> tradeOff_;
  InBackground weighing_;
  std::vector<WorthBuying> toBuy_;
  std::vector<Row> rows_;      ///< of the table
  std::optional<Setup> from_;  ///< what the search started from
  std::shared_ptr<const Car> resultFor_;
  RecipeOrder asked_;  ///< of the search that runs or ran: the lines may be edited meanwhile
  End shownEnd_ = End::front;
  std::shared_ptr<const Car> shownCar_;
  std::shared_ptr<std::atomic<bool>> cancel_;
};

}  // namespace lowkite::app
