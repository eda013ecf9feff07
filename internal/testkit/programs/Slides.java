// A window that does what it is told on its standard input, for tests.

import java.awt.*;
import java.util.Scanner;
import javax.swing.*;

public class Slides {
    static JDialog dialog;
    static JPopupMenu menu = new JPopupMenu();

    public static void main(String[] args) {
        JFrame win = new JFrame("Swing Slides");
        JPanel sea = new JPanel();
        sea.setBackground(new Color(0x2468ac));
        win.add(sea);
        win.setSize(420, 300);
        win.setDefaultCloseOperation(JFrame.EXIT_ON_CLOSE);
        menu.setLightWeightPopupEnabled(false);
        menu.add("First reel");
        menu.add("Second reel");
        SwingUtilities.invokeLater(() -> win.setVisible(true));
        Scanner in = new Scanner(System.in);
        while (in.hasNextLine()) {
            String line = in.nextLine();
            SwingUtilities.invokeLater(() -> told(win, sea, line));
        }
        System.exit(0);
    }

    static void told(JFrame win, JPanel sea, String line) {
        switch (line) {
            case "dialog":
                dialog = new JDialog(win, "Swing Question");
                dialog.getContentPane().setBackground(new Color(0xac6824));
                dialog.setSize(200, 120);
                dialog.setVisible(true);
                break;
            case "undialog":
                dialog.dispose();
                break;
            case "menu":
                menu.show(sea, 40, 40);
                break;
            case "unmenu":
                menu.setVisible(false);
                break;
            case "fullscreen":
                win.getGraphicsConfiguration().getDevice().setFullScreenWindow(win);
                break;
            case "unfullscreen":
                win.getGraphicsConfiguration().getDevice().setFullScreenWindow(null);
                break;
            case "maximise":
                win.setExtendedState(Frame.MAXIMIZED_BOTH);
                break;
            case "unmaximise":
                win.setExtendedState(Frame.NORMAL);
                break;
            case "place":
                Point at = sea.getLocationOnScreen();
                System.out.println(at.x + " " + at.y);
                break;
            case "quit":
                System.exit(0);
        }
    }
}
