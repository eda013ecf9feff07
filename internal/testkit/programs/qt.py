# A window that does what it is told on its standard input, for tests.
import sys
from PyQt5 import QtCore, QtWidgets

app = QtWidgets.QApplication(sys.argv)
win = QtWidgets.QWidget()
win.setWindowTitle("Qt Slides")
win.resize(420, 300)
win.setStyleSheet("background: #2468ac")
win.show()
menu = QtWidgets.QMenu(win)
menu.addAction("First reel")
menu.addAction("Second reel")
dialog = None


def told():
    global dialog
    line = sys.stdin.readline().strip()
    # What the display has told it is taken in first, as it is between two keys of a
    # person: Qt does nothing for a state that it believes to have still.
    app.sync()
    if line == "dialog":
        dialog = QtWidgets.QDialog(win)
        dialog.setWindowTitle("Qt Question")
        dialog.resize(200, 120)
        dialog.setModal(True)
        dialog.show()
    elif line == "undialog":
        dialog.close()
    elif line == "menu":
        menu.popup(win.mapToGlobal(QtCore.QPoint(40, 40)))
    elif line == "unmenu":
        menu.hide()
    elif line == "fullscreen":
        win.showFullScreen()
    elif line in ("unfullscreen", "unmaximise"):
        win.showNormal()
    elif line == "maximise":
        win.showMaximized()
    elif line == "place":
        at = win.mapToGlobal(QtCore.QPoint(0, 0))
        print(at.x(), at.y(), flush=True)
    elif line in ("quit", ""):
        app.quit()


notifier = QtCore.QSocketNotifier(sys.stdin.fileno(), QtCore.QSocketNotifier.Read)
notifier.activated.connect(told)
app.exec_()
