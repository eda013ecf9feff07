package x11

import (
	"fmt"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/host/display"
)

// atom is an index into the table of atoms this package uses.
type atom int

type atoms [atomCount]xproto.Atom

const (
	aManager atom = iota
	aProtocols
	aDeleteWindow
	aTakeFocus
	aState
	aChangeState
	aUTF8
	aTime   // ours: to ask the server for its time
	aMark   // ours: what we know of a window, on it
	aDesk   // ours: the desk, on the root
	aServer // ours: a number that tells this X server from others, on the root
	aEDID
	aNetName
	aNetPID
	aSupported
	aSupportingCheck
	aClientList
	aClientListStacking
	aNumberOfDesktops
	aDesktopNames
	aDesktopGeometry
	aDesktopViewport
	aCurrentDesktop
	aActiveWindow
	aWorkarea
	aCloseWindow
	aWindowDesktop
	aWindowType
	aTypeDesktop
	aTypeDock
	aTypeDialog
	aTypeUtility
	aTypeToolbar
	aTypeMenu
	aTypeSplash
	aTypeNormal
	aStrut
	aStrutPartial
	aFrameExtents
	aShadow
	aRequestExtents
	aUserTime
	aStartupID
	aPing
	aRole
	aNetState
	aStateHidden
	aStateSticky
	aStateAbove
	aStateFullscreen
	aStateDemands
	aStateMaxH
	aStateMaxV
	aShowingDesktop
	aStateModal
	aStateSkipTaskbar
	aStateSkipPager
	aStateBelow
	aStateFocused
	aTypeDropdown
	aTypePopup
	aTypeTooltip
	aTypeNotification
	aTypeCombo
	aTypeDND
	aAllowedActions
	aActionMove
	aActionResize
	aActionMinimize
	aActionStick
	aActionMaxH
	aActionMaxV
	aActionFullscreen
	aActionDesktop
	aActionClose
	aActionAbove
	aActionBelow
	aMoveResizeWindow
	aMoveResize
	aRestackWindow
	aFullscreenMonitors
	aUserTimeWindow
	aMotifHints
	aIcon
	aBypass
	aOpacity
	aColormapWindows
	aCompoundText
	aStartupInfo
	aStartupBegin
	aNetIconName
	atomCount
)

var atomNames = [atomCount]string{
	aManager:            "MANAGER",
	aProtocols:          "WM_PROTOCOLS",
	aDeleteWindow:       "WM_DELETE_WINDOW",
	aTakeFocus:          "WM_TAKE_FOCUS",
	aState:              "WM_STATE",
	aChangeState:        "WM_CHANGE_STATE",
	aUTF8:               "UTF8_STRING",
	aTime:               "_ZEALOUS_ATLAS_TIME",
	aMark:               "_ZEALOUS_ATLAS_WINDOW",
	aDesk:               "_ZEALOUS_ATLAS_DESK",
	aServer:             "_ZEALOUS_ATLAS_SERVER",
	aEDID:               "EDID",
	aNetName:            "_NET_WM_NAME",
	aNetPID:             "_NET_WM_PID",
	aSupported:          "_NET_SUPPORTED",
	aSupportingCheck:    "_NET_SUPPORTING_WM_CHECK",
	aClientList:         "_NET_CLIENT_LIST",
	aClientListStacking: "_NET_CLIENT_LIST_STACKING",
	aNumberOfDesktops:   "_NET_NUMBER_OF_DESKTOPS",
	aDesktopNames:       "_NET_DESKTOP_NAMES",
	aDesktopGeometry:    "_NET_DESKTOP_GEOMETRY",
	aDesktopViewport:    "_NET_DESKTOP_VIEWPORT",
	aCurrentDesktop:     "_NET_CURRENT_DESKTOP",
	aActiveWindow:       "_NET_ACTIVE_WINDOW",
	aWorkarea:           "_NET_WORKAREA",
	aCloseWindow:        "_NET_CLOSE_WINDOW",
	aWindowDesktop:      "_NET_WM_DESKTOP",
	aWindowType:         "_NET_WM_WINDOW_TYPE",
	aTypeDesktop:        "_NET_WM_WINDOW_TYPE_DESKTOP",
	aTypeDock:           "_NET_WM_WINDOW_TYPE_DOCK",
	aTypeDialog:         "_NET_WM_WINDOW_TYPE_DIALOG",
	aTypeUtility:        "_NET_WM_WINDOW_TYPE_UTILITY",
	aTypeToolbar:        "_NET_WM_WINDOW_TYPE_TOOLBAR",
	aTypeMenu:           "_NET_WM_WINDOW_TYPE_MENU",
	aTypeSplash:         "_NET_WM_WINDOW_TYPE_SPLASH",
	aTypeNormal:         "_NET_WM_WINDOW_TYPE_NORMAL",
	aStrut:              "_NET_WM_STRUT",
	aStrutPartial:       "_NET_WM_STRUT_PARTIAL",
	aFrameExtents:       "_NET_FRAME_EXTENTS",
	aShadow:             "_GTK_FRAME_EXTENTS",
	aRequestExtents:     "_NET_REQUEST_FRAME_EXTENTS",
	aUserTime:           "_NET_WM_USER_TIME",
	aStartupID:          "_NET_STARTUP_ID",
	aPing:               "_NET_WM_PING",
	aRole:               "WM_WINDOW_ROLE",
	aNetState:           "_NET_WM_STATE",
	aStateHidden:        "_NET_WM_STATE_HIDDEN",
	aStateSticky:        "_NET_WM_STATE_STICKY",
	aStateAbove:         "_NET_WM_STATE_ABOVE",
	aStateFullscreen:    "_NET_WM_STATE_FULLSCREEN",
	aStateDemands:       "_NET_WM_STATE_DEMANDS_ATTENTION",
	aStateMaxH:          "_NET_WM_STATE_MAXIMIZED_HORZ",
	aStateMaxV:          "_NET_WM_STATE_MAXIMIZED_VERT",
	aShowingDesktop:     "_NET_SHOWING_DESKTOP",
	aStateModal:         "_NET_WM_STATE_MODAL",
	aStateSkipTaskbar:   "_NET_WM_STATE_SKIP_TASKBAR",
	aStateSkipPager:     "_NET_WM_STATE_SKIP_PAGER",
	aStateBelow:         "_NET_WM_STATE_BELOW",
	aStateFocused:       "_NET_WM_STATE_FOCUSED",
	aTypeDropdown:       "_NET_WM_WINDOW_TYPE_DROPDOWN_MENU",
	aTypePopup:          "_NET_WM_WINDOW_TYPE_POPUP_MENU",
	aTypeTooltip:        "_NET_WM_WINDOW_TYPE_TOOLTIP",
	aTypeNotification:   "_NET_WM_WINDOW_TYPE_NOTIFICATION",
	aTypeCombo:          "_NET_WM_WINDOW_TYPE_COMBO",
	aTypeDND:            "_NET_WM_WINDOW_TYPE_DND",
	aAllowedActions:     "_NET_WM_ALLOWED_ACTIONS",
	aActionMove:         "_NET_WM_ACTION_MOVE",
	aActionResize:       "_NET_WM_ACTION_RESIZE",
	aActionMinimize:     "_NET_WM_ACTION_MINIMIZE",
	aActionStick:        "_NET_WM_ACTION_STICK",
	aActionMaxH:         "_NET_WM_ACTION_MAXIMIZE_HORZ",
	aActionMaxV:         "_NET_WM_ACTION_MAXIMIZE_VERT",
	aActionFullscreen:   "_NET_WM_ACTION_FULLSCREEN",
	aActionDesktop:      "_NET_WM_ACTION_CHANGE_DESKTOP",
	aActionClose:        "_NET_WM_ACTION_CLOSE",
	aActionAbove:        "_NET_WM_ACTION_ABOVE",
	aActionBelow:        "_NET_WM_ACTION_BELOW",
	aMoveResizeWindow:   "_NET_MOVERESIZE_WINDOW",
	aMoveResize:         "_NET_WM_MOVERESIZE",
	aRestackWindow:      "_NET_RESTACK_WINDOW",
	aFullscreenMonitors: "_NET_WM_FULLSCREEN_MONITORS",
	aUserTimeWindow:     "_NET_WM_USER_TIME_WINDOW",
	aMotifHints:         "_MOTIF_WM_HINTS",
	aIcon:               "_NET_WM_ICON",
	aBypass:             "_NET_WM_BYPASS_COMPOSITOR",
	aOpacity:            "_NET_WM_WINDOW_OPACITY",
	aColormapWindows:    "WM_COLORMAP_WINDOWS",
	aCompoundText:       "COMPOUND_TEXT",
	aStartupInfo:        "_NET_STARTUP_INFO",
	aStartupBegin:       "_NET_STARTUP_INFO_BEGIN",
	aNetIconName:        "_NET_WM_ICON_NAME",
}

// supportedAtoms is what _NET_SUPPORTED lists: properties we keep true and
// messages we honour, and nothing else.
var supportedAtoms = []atom{
	aSupported, aSupportingCheck, aClientList, aClientListStacking, aNumberOfDesktops, aDesktopNames,
	aDesktopGeometry, aDesktopViewport, aCurrentDesktop, aActiveWindow, aWorkarea, aShowingDesktop,
	aCloseWindow, aMoveResizeWindow, aMoveResize, aRestackWindow, aRequestExtents, aFullscreenMonitors,
	aNetName, aNetPID, aWindowDesktop, aStrut, aStrutPartial, aFrameExtents, aShadow, aUserTime, aUserTimeWindow, aStartupID, aPing,
	aWindowType, aTypeDesktop, aTypeDock, aTypeDialog, aTypeUtility, aTypeToolbar, aTypeMenu, aTypeSplash, aTypeNormal,
	aTypeDropdown, aTypePopup, aTypeTooltip, aTypeNotification, aTypeCombo, aTypeDND,
	aNetState, aStateHidden, aStateSticky, aStateAbove, aStateBelow, aStateFullscreen, aStateMaxH, aStateMaxV, aStateDemands,
	aStateModal, aStateSkipTaskbar, aStateSkipPager, aStateFocused,
	aAllowedActions, aActionMove, aActionResize, aActionMinimize, aActionStick, aActionMaxH, aActionMaxV, aActionFullscreen,
	aActionDesktop, aActionClose, aActionAbove, aActionBelow,
}

func internAtoms(c *xgb.Conn) (atoms, error) {
	var cookies [atomCount]xproto.InternAtomCookie
	for i, name := range atomNames {
		cookies[i] = xproto.InternAtom(c, false, uint16(len(name)), name)
	}
	var as atoms
	for i, ck := range cookies {
		r, err := ck.Reply()
		if err != nil {
			return as, fmt.Errorf("asking for the atom %s: %w", atomNames[i], err)
		}
		as[i] = r.Atom
	}
	return as, nil
}

// reader reads the facts of windows by these atoms.
func (as *atoms) reader(c *xgb.Conn) *display.Reader {
	byName, byAtom := map[string]xproto.Atom{}, map[xproto.Atom]string{}
	for i, name := range atomNames {
		byName[name], byAtom[as[i]] = as[i], name
	}
	return &display.Reader{
		Conn: c, Atom: func(name string) xproto.Atom { return byName[name] }, Name: func(a xproto.Atom) string { return byAtom[a] },
		Skip: []string{"_NET_FRAME_EXTENTS"}, // our own
	}
}

func intern(c *xgb.Conn, name string) (xproto.Atom, error) {
	r, err := xproto.InternAtom(c, false, uint16(len(name)), name).Reply()
	if err != nil {
		return 0, fmt.Errorf("asking for the atom %s: %w", name, err)
	}
	return r.Atom, nil
}
