// My boxes: what lies there, how many, what of it the car at hand can be set to, and how it gets into the car's parts.
#pragma once

#include <vector>

#include <QWidget>

#include "app/car/car_editor.h"
#include "app/settings/my_boxes.h"

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QMenu;
class QPushButton;
class QTableWidget;
class QToolButton;

namespace lowkite::app {

class BoxesPage : public QWidget {
  Q_OBJECT
 public:
  BoxesPage(MyBoxes& boxes, CarEditor& editor, QWidget* parent = nullptr);

  /// The item in hand, by its place in the boxes; -1: none.
  [[nodiscard]] int inHand() const { return inHand_; }
  void take(int item);

 Q_SIGNALS:
  void told(const QString& news);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  /// A line of the form: what is asked, and for which kinds.
  struct Line {
    QLabel* name = nullptr;
    QWidget* field = nullptr;
  };
  /// An entry of "fits".
  struct Fits {
    std::vector<std::string> cars;
    std::string part;
  };

  QWidget* makeList();
  QWidget* makeForm();
  QLineEdit* addText(QGridLayout& grid, const QString& id, const QString& name);
  QComboBox* addChoice(QGridLayout& grid, const QString& id, const QString& name);
  void refresh();
  void fillList();
  void fillForm();
  void fillFits(const BoxItem& item);
  void fillPart(const BoxItem& item);
  void fillCar(const BoxItem& item);
  void tellCounted();
  void add(BoxKind kind);
  void addSeveral();
  void count(int item, int by);
  void takeForm();
  void putIn(PartHandle adjuster);
  void removeItem();
  void example();
  void put(Boxes next, const QString& what, int merge = 0);
  [[nodiscard]] const Car* car() const;
  [[nodiscard]] QString onThisCar(const BoxItem& item) const;

  MyBoxes& boxes_;
  CarEditor& editor_;
  QComboBox* kind_ = nullptr;
  QToolButton* add_ = nullptr;
  QTableWidget* list_ = nullptr;
  QLabel* counted_ = nullptr;
  QPushButton* example_ = nullptr;
  QWidget* form_ = nullptr;
  QLabel* title_ = nullptr;
  std::vector<Line> lines_;
  QLineEdit *label_ = nullptr, *maker_ = nullptr, *value_ = nullptr, *holes_ = nullptr, *second_ = nullptr,
            *from_ = nullptr, *length_ = nullptr, *table_ = nullptr, *note_ = nullptr, *several_ = nullptr;
  QComboBox *use_ = nullptr, *part_ = nullptr, *position_ = nullptr, *fits_ = nullptr;
  QLabel* derived_ = nullptr;
  QLabel* wrong_ = nullptr;
  QLabel* onCar_ = nullptr;
  QToolButton* putIn_ = nullptr;
  QMenu* putInMenu_ = nullptr;
  QPushButton* remove_ = nullptr;
  std::vector<std::size_t> order_;  ///< of the list's rows: places in the boxes
  std::vector<Fits> fitsList_;
  std::vector<PartHandle> parts_;  ///< of the choice of a part: adjusters
  std::shared_ptr<const Car> filledFor_;
  int inHand_ = -1;
  bool filling_ = false;
};

}  // namespace lowkite::app
