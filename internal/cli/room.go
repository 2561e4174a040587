package cli

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
)

func (a *app) room() *cobra.Command {
	cmd := &cobra.Command{Use: "room", Short: "Open, list, end and remove rooms, and bring editions and decks into them"}
	var o client.OpenRoom
	var closed bool
	open := a.asMaker(&cobra.Command{
		Use:     "open KIT",
		Short:   "Open a room with a kit, named by its name or id, or from a bookmark",
		Example: "  damselfly room open \"Marsh Post\"\n  damselfly room open \"Marsh Post\" --name Thursday --seats 3 --passcode heron\n  damselfly room open --bookmark BOOKMARK",
		Args:    cobra.MaximumNArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if len(args) == 1 == (o.Bookmark != "") {
			return usage("name a kit, or a bookmark with --bookmark, and not both")
		}
		if len(args) == 1 {
			o.Kit = args[0]
		}
		if closed {
			o.Spectators = new(bool)
		}
		room, err := maker.OpenRoom(cmd.Context(), o)
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(room)
		}
		fmt.Fprintf(a.out, "The room %q is open. Send this link:\n\n  %s\n\nor sit down here: damselfly join %s --as NAME\n", room.Name, room.Link, room.ID)
		if room.OnlyHere {
			fmt.Fprintln(a.out, "\nOnly this machine can open that link: who keeps the service gives it an address that others reach with --public-address.")
		}
		return nil
	})
	open.Flags().StringVar(&o.Name, "name", "", "the room's name (default: the kit's)")
	open.Flags().IntVar(&o.Seats, "seats", 0, "how many seats (default: as many as the kit has)")
	open.Flags().IntVar(&o.Edition, "edition", 0, "which edition of the kit (default: the newest)")
	open.Flags().StringVar(&o.Bookmark, "bookmark", "", "begin as this bookmark has its table, in place of a kit")
	open.Flags().StringVar(&o.Deck, "deck", "", "one deck of the kit alone, shuffled, in place of its table")
	open.Flags().StringVar(&o.Passcode, "passcode", "", "ask everyone who joins for this")
	open.Flags().StringSliceVar(&o.Origins, "allow-origin", nil, "`addresses` of pages of others that may ask about the room and show its table in a frame, such as https://game.example; * for all")
	open.Flags().BoolVar(&closed, "no-spectators", false, "let nobody watch without a seat")
	list := a.asMaker(&cobra.Command{
		Use: "list", Short: "List your rooms", Example: "  damselfly room list", Args: cobra.NoArgs,
	}, func(cmd *cobra.Command, maker *client.Client, _ []string) error {
		rooms, err := maker.Rooms(cmd.Context())
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(asAnswered("rooms", rooms))
		}
		rows := [][]string{}
		for _, r := range rooms {
			edition := fmt.Sprintf("%s, edition %d", r.KitName, r.Edition)
			if r.Newest > r.Edition {
				edition += fmt.Sprintf(" of %d", r.Newest)
			}
			rows = append(rows, []string{r.ID, r.Name, edition, fmt.Sprint(r.People), when(r.LastAt), r.Link})
		}
		a.printTable("You have no rooms yet. Open one with \"damselfly room open KIT\".", []string{"room", "name", "kit", "there", "last act", "link"}, rows)
		return nil
	})
	cmd.AddCommand(open, list, a.keepTable(), a.takeEdition(), a.bringDeck(), a.roomFree(), a.roomHost(), a.roomPasscode(), a.roomOrigins(), a.roomEnd(), a.roomRemove(), a.roomUnused())
	return cmd
}

func (a *app) takeEdition() *cobra.Command {
	var want client.TakeEdition
	cmd := a.asMaker(&cobra.Command{
		Use: "take-edition ROOM", Short: "Take the newest edition of its kit, or another one, into a room that is playing",
		Long: "Take the newest edition of its kit into a room that is playing, or with --edition another one, also one of\n" +
			"before. Cards keep their place, side, turn and secrecy. See what differs with \"damselfly kit compare\".",
		Example: "  damselfly room take-edition ROOM\n  damselfly room take-edition ROOM --edition 1 --new-cards shuffled", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.TakeEdition(cmd.Context(), roomID(args[0]), want); err != nil {
			return err
		}
		room, err := maker.Room(cmd.Context(), roomID(args[0]))
		if err != nil {
			return err
		}
		return a.done(room, "%s plays with edition %d now.", room.Name, room.Edition)
	})
	cmd.Flags().IntVar(&want.Edition, "edition", 0, "which edition (default: the newest)")
	cmd.Flags().StringVar(&want.NewCards, "new-cards", "", "where new cards go at their deck's home: top, underneath or shuffled (default: underneath)")
	return cmd
}

func (a *app) bringDeck() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "bring-deck ROOM KIT DECK", Short: "Bring a deck of a kit onto the table of a room, as a pile of its own",
		Example: "  damselfly room bring-deck ROOM \"Bog Post\" birds", Args: cobra.ExactArgs(3),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.BringDeck(cmd.Context(), roomID(args[0]), args[1], args[2]); err != nil {
			return err
		}
		return a.doneAt(cmd, maker, args[0], "The deck is on the table.")
	})
}

// doneAt ends a command about a room of one's own: for programs with the room as it is now.
func (a *app) doneAt(cmd *cobra.Command, maker *client.Client, room, format string, args ...any) error {
	if !a.json {
		return a.done(nil, format, args...)
	}
	now, err := maker.Room(cmd.Context(), roomID(room))
	if err != nil {
		return err
	}
	return a.printJSON(now)
}

// atSeat runs a command for a seat of a room of one's own.
func (a *app) atSeat(cmd *cobra.Command, run func(cmd *cobra.Command, maker *client.Client, room string, seat client.SeatNumber) error) *cobra.Command {
	cmd.Args = cobra.ExactArgs(2)
	return a.asMaker(cmd, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		seat, err := strconv.Atoi(args[1])
		if err != nil || seat < 1 {
			return usage("name the seat by its number, such as 2, not %q", args[1])
		}
		return run(cmd, maker, roomID(args[0]), client.SeatNumber(seat))
	})
}

func (a *app) roomFree() *cobra.Command {
	return a.atSeat(&cobra.Command{
		Use: "free ROOM SEAT", Short: "Free a seat of a room: its keys end, its cards stay for whoever takes it",
		Example: "  damselfly room free ROOM 2",
	}, func(cmd *cobra.Command, maker *client.Client, room string, seat client.SeatNumber) error {
		if err := maker.FreeSeat(cmd.Context(), room, seat); err != nil {
			return err
		}
		return a.doneAt(cmd, maker, room, "Seat %d is free.", seat)
	})
}

func (a *app) roomHost() *cobra.Command {
	return a.atSeat(&cobra.Command{
		Use: "host ROOM SEAT", Short: "Make a seat of a room its host",
		Example: "  damselfly room host ROOM 2",
	}, func(cmd *cobra.Command, maker *client.Client, room string, seat client.SeatNumber) error {
		if err := maker.MakeHost(cmd.Context(), room, seat); err != nil {
			return err
		}
		return a.doneAt(cmd, maker, room, "Seat %d is the host.", seat)
	})
}

func (a *app) roomPasscode() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "passcode ROOM [PASSCODE]", Short: "Have a room ask whoever joins for another passcode, or for none",
		Example: "  damselfly room passcode ROOM heron\n  damselfly room passcode ROOM", Args: cobra.RangeArgs(1, 2),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		passcode := ""
		if len(args) == 2 {
			passcode = args[1]
		}
		if err := maker.SetPasscode(cmd.Context(), roomID(args[0]), passcode); err != nil {
			return err
		}
		if passcode == "" {
			return a.doneAt(cmd, maker, args[0], "The room asks for no passcode any more.")
		}
		return a.doneAt(cmd, maker, args[0], "Whoever joins from now on is asked for the new passcode; who sits there stays.")
	})
}

func (a *app) roomOrigins() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "origins ROOM [ADDRESS…]", Short: "Let pages of other addresses ask about a room and show its table in a frame, or none",
		Example: "  damselfly room origins ROOM https://game.example\n  damselfly room origins ROOM", Args: cobra.MinimumNArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.SetOrigins(cmd.Context(), roomID(args[0]), args[1:]); err != nil {
			return err
		}
		if len(args) == 1 {
			return a.doneAt(cmd, maker, args[0], "Pages of no other address may ask about the room any more.")
		}
		return a.doneAt(cmd, maker, args[0], "Pages of %s may ask about the room, hold its socket and show its table.", strings.Join(args[1:], ", "))
	})
}

func (a *app) roomEnd() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "end ROOM", Aliases: []string{"close"}, Short: "End the game of a room: nothing is done there any more, and its shuffles can be checked",
		Example: "  damselfly room end ROOM", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.EndRoom(cmd.Context(), roomID(args[0])); err != nil {
			return err
		}
		return a.doneAt(cmd, maker, args[0], "The game has ended.")
	})
}

func (a *app) roomRemove() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use: "remove ROOM", Short: "Take a room away; its maker can bring it back on the shelf for 30 days",
		Example: "  damselfly room remove ROOM", Args: cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		if err := maker.RemoveRoom(cmd.Context(), roomID(args[0])); err != nil {
			return err
		}
		return a.done(removed{roomID(args[0])}, "The room is gone from your list, and its link leads nowhere.")
	})
}

func (a *app) keepTable() *cobra.Command {
	return a.asMaker(&cobra.Command{
		Use:   "keep-table ROOM",
		Short: "Keep the table as it is laid in a new edition of its kit",
		Long: "Keep the zones, pieces, mat, setup and cues of a room in a new edition of the kit it was opened with.\n" +
			"Cards are no part of it. Rooms that are open stay as they are.",
		Example: "  damselfly room keep-table ROOM",
		Args:    cobra.ExactArgs(1),
	}, func(cmd *cobra.Command, maker *client.Client, args []string) error {
		put, err := maker.KeepTable(cmd.Context(), roomID(args[0]))
		if err != nil {
			return err
		}
		if a.json {
			return a.printJSON(put)
		}
		if !put.Fresh {
			fmt.Fprintf(a.out, "Edition %d of %s has this table already.\n", put.Edition, put.Name)
			return nil
		}
		fmt.Fprintf(a.out, "The table is kept: edition %d of %s.\n", put.Edition, put.Name)
		return nil
	})
}

func (a *app) join() *cobra.Command {
	var j client.Join
	cmd := &cobra.Command{
		Use:   "join ROOM --as NAME",
		Short: "Take a seat in a room, or watch",
		Long: "Take a seat in a room, or watch. The key to the seat is kept in the configuration folder, so that\n" +
			"look, do, watch and log find it. Several seats of one room are told apart with --as.",
		Example: "  damselfly join ROOM --as Ada\n  damselfly join ROOM --as Bo --seat 3 --passcode heron\n  damselfly join ROOM --watch",
		Args:    cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if j.Name == "" && !j.Watch {
				return usage("say who joins with --as NAME, or watch with --watch")
			}
			joined, err := client.New(a.server, "").Join(cmd.Context(), roomID(args[0]), j)
			if err != nil {
				return err
			}
			if err := keepSeat(kept{Server: a.server, Joined: joined}); err != nil {
				return err
			}
			switch {
			case a.json:
				return a.printJSON(joined)
			case joined.Seat == 0:
				fmt.Fprintln(a.out, "You watch.")
			default:
				fmt.Fprintf(a.out, "%s sits at seat %d. Look around: damselfly look %s\n", joined.Name, joined.Seat, joined.Room)
			}
			return nil
		},
	}
	cmd.Flags().StringVar(&j.Name, "as", "", "what the others call you")
	cmd.Flags().IntVar((*int)(&j.Seat), "seat", 0, "which seat (default: the first free one)")
	cmd.Flags().BoolVar(&j.Watch, "watch", false, "watch without a seat")
	cmd.Flags().StringVar(&j.Passcode, "passcode", "", "the room's passcode, if it has one")
	return cmd
}

// roomID takes a room's id, or the link to it.
func roomID(text string) string {
	return text[strings.LastIndex(text, "/")+1:]
}

// kept is a seat that was taken from this account.
type kept struct {
	Server string        `json:"server"`
	Joined client.Joined `json:"joined"`
}

func seatsFile() (string, error) {
	folder, err := configFolder()
	return filepath.Join(folder, "seats.json"), err
}

func keptSeats() ([]kept, error) {
	file, err := seatsFile()
	if err != nil {
		return nil, err
	}
	text, err := os.ReadFile(file)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var seats []kept
	if err := json.Unmarshal(text, &seats); err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	return seats, nil
}

// keepSeat adds a seat to the file, which is replaced as a whole.
func keepSeat(k kept) error {
	seats, err := keptSeats()
	if err != nil {
		return err
	}
	text, err := json.MarshalIndent(append(seats, k), "", "  ")
	if err != nil {
		return err
	}
	file, err := seatsFile()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	if err := os.WriteFile(file+".new", text, 0o600); err != nil {
		return err
	}
	return os.Rename(file+".new", file)
}

// seat finds the seat that was taken in a room, the latest one if no name is
// given.
func (a *app) seat(room, name string) (*client.Seat, error) {
	seats, err := keptSeats()
	if err != nil {
		return nil, err
	}
	for i := len(seats) - 1; i >= 0; i-- {
		k := seats[i]
		if k.Joined.Room == roomID(room) && k.Server == a.server && (name == "" || strings.EqualFold(k.Joined.Name, name)) {
			return client.New(a.server, "").At(k.Joined), nil
		}
	}
	if name != "" {
		return nil, refused("nobody called %s joined the room %s from here; see damselfly join --help", name, roomID(room))
	}
	return nil, refused("you have not joined the room %s from here; take a seat with: damselfly join %s --as NAME", roomID(room), roomID(room))
}
