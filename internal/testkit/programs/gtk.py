# A window that does what it is told on its standard input, for tests; GTK 3 or 4 by
# the first argument.
import sys
import gi

version = sys.argv[1]
gi.require_version("Gtk", version + ".0")
gi.require_version("Gdk", version + ".0")
from gi.repository import Gdk, GLib, Gtk

css = Gtk.CssProvider()
data = b".sea { background: #2468ac; }"
css.load_from_data(data)
dialog = menu = None


def build(win):
    global area, menu
    win.set_title("GTK Slides")
    win.set_default_size(420, 300)
    bar = Gtk.HeaderBar()
    if version == "3":
        bar.set_show_close_button(True)
        bar.set_title("GTK Slides")
        Gtk.StyleContext.add_provider_for_screen(Gdk.Screen.get_default(), css, 800)
    else:
        Gtk.StyleContext.add_provider_for_display(Gdk.Display.get_default(), css, 800)
    win.set_titlebar(bar)
    area = Gtk.Box()
    area.get_style_context().add_class("sea")
    if version == "3":
        win.add(area)
        menu = Gtk.Menu()
        for name in ["First reel", "Second reel"]:
            menu.append(Gtk.MenuItem(label=name))
        menu.show_all()
        win.show_all()
    else:
        win.set_child(area)
        menu = Gtk.Popover()
        menu.set_child(Gtk.Label(label="First reel"))
        menu.set_parent(area)
        win.present()


def told(_source, _condition):
    global dialog
    line = sys.stdin.readline().strip()
    if line == "dialog":
        dialog = Gtk.Window(title="GTK Question")
        dialog.set_default_size(200, 120)
        dialog.set_transient_for(win)
        dialog.set_modal(True)
        dialog.show_all() if version == "3" else dialog.present()
    elif line == "undialog":
        dialog.destroy()
    elif line == "menu":
        menu.popup_at_widget(area, Gdk.Gravity.CENTER, Gdk.Gravity.NORTH_WEST, None) if version == "3" else menu.popup()
    elif line == "unmenu":
        menu.popdown()
    elif line == "fullscreen":
        win.fullscreen()
    elif line == "unfullscreen":
        win.unfullscreen()
    elif line == "maximise":
        win.maximize()
    elif line == "unmaximise":
        win.unmaximize()
    elif line in ("quit", ""):
        loop.quit()
    return True


if version == "4":
    Gtk.init()
    win = Gtk.Window()
else:
    win = Gtk.Window()
build(win)
loop = GLib.MainLoop()
win.connect("delete-event" if version == "3" else "close-request", lambda *a: loop.quit())
GLib.io_add_watch(sys.stdin.fileno(), GLib.IO_IN | GLib.IO_HUP, told)
loop.run()
