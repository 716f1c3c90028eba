#include "app/widgets/banner.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace lowkite::app {

Banner::Banner(QWidget* parent) : QFrame(parent) {
  setObjectName(QStringLiteral("banner"));
  setProperty("panel", true);
  row_ = new QHBoxLayout(this);
  row_->setContentsMargins(12, 4, 8, 4);
  row_->setSpacing(8);
  sign_ = new QLabel(this);
  text_ = new QLabel(this);
  text_->setObjectName(QStringLiteral("banner.text"));
  text_->setWordWrap(true);
  text_->setTextFormat(Qt::PlainText);  // news hold names
  row_->addWidget(sign_);
  row_->addWidget(text_, 1);
  hide();
}

void Banner::tell(const QString& text, const std::vector<Action>& actions, const QString& sign) {
  for (QWidget* b : buttons_) {
    b->hide();
    b->deleteLater();
  }
  buttons_.clear();
  sign_->setText(sign);
  text_->setText(text);
  for (const Action& action : actions) {
    auto* button = new QPushButton(action.label, this);
    button->setObjectName(QStringLiteral("banner.action.%1").arg(buttons_.size()));
    connect(button, &QPushButton::clicked, this, [this, run = action.run] {
      clear();
      run();
    });
    row_->addWidget(button);
    buttons_.push_back(button);
  }
  auto* close = new QPushButton(tr("Close"), this);
  close->setObjectName(QStringLiteral("banner.close"));
  connect(close, &QPushButton::clicked, this, &Banner::clear);
  row_->addWidget(close);
  buttons_.push_back(close);
  show();
}

void Banner::clear() {
  hide();
}

}  // namespace lowkite::app
