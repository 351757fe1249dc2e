#include "core/base/dense.h"
#include "tests/program.h"

#include <QtTest>

using namespace dusk;
using Eigen::MatrixXd;
using Eigen::VectorXd;

/// Decompositions by what they must give back, for sizes that are used and some that are not.
class TestDense : public QObject {
  Q_OBJECT
  /// The same numbers each time, none of them special.
  static MatrixXd numbers(int rows, int columns, int seed) {
    MatrixXd m(rows, columns);
    for (int i = 0; i < rows * columns; ++i)
      m(i / columns, i % columns) = std::sin(12.9898 * (i + 1) * (i + 1) * seed);
    return m;
  }
  static double apart(const MatrixXd& a, const MatrixXd& b) { return (a - b).cwiseAbs().maxCoeff(); }

 private slots:
  void theyGiveBackWhatTheyTook_data() {
    QTest::addColumn<int>("n");
    for (const int n : {1, 2, 3, 5, 12}) QTest::addRow("%d", n) << n;
  }
  void theyGiveBackWhatTheyTook() {
    QFETCH(int, n);
    const MatrixXd a = numbers(n, n, 3), symmetric = a * a.transpose() + MatrixXd::Identity(n, n);
    const VectorXd x = numbers(n, 1, 7);
    QVERIFY(apart(solveSymmetric(symmetric, symmetric * x), x) < 1e-9);
    const SymmetricEigen e = symmetricEigen(symmetric);
    QVERIFY(apart(e.vectors * e.values.asDiagonal() * e.vectors.transpose(), symmetric) < 1e-9);
    for (int i = 1; i < n; ++i) QVERIFY(e.values(i - 1) <= e.values(i));
    const Svd s = svd(a);
    QVERIFY(apart(s.u * s.u.transpose(), MatrixXd::Identity(n, n)) < 1e-9);
    const MatrixXd between = s.u.transpose() * a * s.v;  // diagonal
    QVERIFY(apart(between, MatrixXd(between.diagonal().asDiagonal())) < 1e-9);
    const Qr f = qr(a);
    QVERIFY(apart(f.q * f.r, a) < 1e-9);
    for (int i = 0; i < n; ++i)
      for (int j = 0; j < i; ++j) QCOMPARE(f.r(i, j), 0.0);
  }
  void moreRowsThanUnknowns() {
    const MatrixXd a = numbers(40, 3, 5);
    const VectorXd x = numbers(3, 1, 2), off = numbers(40, 1, 11);
    QVERIFY(apart(leastSquares(a, a * x), x) < 1e-9);
    // What is left stands square on all that could be said.
    QVERIFY((a.transpose() * (a * leastSquares(a, off) - off)).cwiseAbs().maxCoeff() < 1e-9);
    QCOMPARE(svd(a).v.cols(), 3);
    QCOMPARE(svd(a).u.cols(), 40);
  }
  void rootsOfAPolynomial() {
    // (x - 1) (x - 2) (x + 3) by its companion matrix.
    MatrixXd companion = MatrixXd::Zero(3, 3);
    companion << 0, 0, -6, 1, 0, 7, 0, 1, 0;
    std::vector<double> roots;
    for (const auto& root : eigenvalues(companion)) {
      QVERIFY(std::abs(root.imag()) < 1e-9);
      roots.push_back(root.real());
    }
    std::sort(roots.begin(), roots.end());
    QVERIFY(std::abs(roots[0] + 3) + std::abs(roots[1] - 1) + std::abs(roots[2] - 2) < 1e-9);
  }
  void whatCannotBeSolvedIsNotFinite() {
    const VectorXd x = solveSymmetric(MatrixXd::Constant(2, 2, std::nan("")), VectorXd::Ones(2));
    QVERIFY(!x.allFinite());
  }
};

DUSK_TEST(TestDense, NoApplication);
#include "dense.moc"
