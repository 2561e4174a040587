package cli

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"
	"unicode"

	"github.com/spf13/cobra"

	"damselfly.example/damselfly/client"
	"damselfly.example/damselfly/internal/core/steps"
)

// completionPatience is how long a shell waits for a service to answer.
const completionPatience = 2 * time.Second

// completing is a word of a command line that is being written.
type completing struct {
	app    *app
	cmd    *cobra.Command
	before []string // the words before it, without options
	word   string   // what is written of it
}

// completers are what a shell offers for words that are called so in how a command is written: each a word, and behind a tab
// what it is. What a service knows is asked there.
var completers = map[string]func(completing, context.Context) []string{
	"ROOM":     completing.rooms,
	"KIT":      completing.kits,
	"FROM":     completing.editions,
	"TO":       completing.editions,
	"BOOKMARK": completing.bookmarks,
	"MAKER":    completing.makers,
	"SEAT":     completing.seats,
	"PLACE":    completing.places,
	"PLAYER":   completing.players,
	"DECK":     completing.decks,
	"STEPS":    completing.steps,
	"NAME":     choice(), // what only the writer knows, and what is no file
	"COUNT":    choice(),
	"PASSCODE": choice(),
	"ID":       choice(),
	"CARD":     choice(),
	"ADDRESS":  choice(),
}

// optionCompleters are what is offered for options.
var optionCompleters = map[string]func(completing, context.Context) []string{
	"as":         completing.ownSeats,
	"room":       completing.rooms,
	"bookmark":   completing.bookmarks,
	"new-cards":  choice("top", "underneath", "shuffled"),
	"paper":      choice("a4", "letter"),
	"backs":      choice("long", "short", "none"),
	"lie":        choice("upright", "landscape"),
	"side":       choice("front", "back"),
	"log":        choice("debug", "info", "warn", "error"),
	"log-format": choice("text", "json"),
}

func choice(words ...string) func(completing, context.Context) []string {
	return func(completing, context.Context) []string { return words }
}

// completeWords has the shell complete the words and options of all commands.
func (a *app) completeWords(cmd *cobra.Command) {
	for _, below := range cmd.Commands() {
		a.completeWords(below)
	}
	if words, repeats := placeholders(cmd.Use); cmd.Runnable() && len(words) > 0 {
		cmd.ValidArgsFunction = func(cmd *cobra.Command, args []string, word string) ([]string, cobra.ShellCompDirective) {
			at := len(args)
			if repeats {
				at = min(at, len(words)-1)
			}
			if at >= len(words) {
				return nil, cobra.ShellCompDirectiveNoFileComp
			}
			if strings.Contains(words[at], "|") && strings.ToLower(words[at]) == words[at] {
				return strings.Split(words[at], "|"), cobra.ShellCompDirectiveNoFileComp
			}
			return a.offer(cmd, completers[words[at]], args, word)
		}
	}
	for option, offers := range optionCompleters {
		if flag := cmd.LocalNonPersistentFlags().Lookup(option); flag == nil || option == "backs" && cmd.Name() == "check" {
			continue // a sheet's backs are a file
		}
		_ = cmd.RegisterFlagCompletionFunc(option, func(cmd *cobra.Command, args []string, word string) ([]string, cobra.ShellCompDirective) {
			return a.offer(cmd, offers, args, word)
		})
	}
}

// offer asks what may stand there; without an answer files are offered.
func (a *app) offer(cmd *cobra.Command, offers func(completing, context.Context) []string, args []string, word string) ([]string, cobra.ShellCompDirective) {
	if offers == nil {
		return nil, cobra.ShellCompDirectiveDefault
	}
	if err := a.fillFlags(cmd.Root(), cmd.Flags()); err != nil {
		return nil, cobra.ShellCompDirectiveNoFileComp
	}
	ctx, cancel := context.WithTimeout(context.Background(), completionPatience)
	defer cancel()
	var fitting []string
	for _, one := range offers(completing{a, cmd, args, word}, ctx) {
		one = strings.Join(strings.FieldsFunc(one, func(r rune) bool { return r != '\t' && unicode.IsControl(r) }), " ") // a line is one offer
		if strings.HasPrefix(strings.ToLower(one), strings.ToLower(word)) {
			fitting = append(fitting, one)
		}
	}
	return fitting, cobra.ShellCompDirectiveNoFileComp
}

// placeholders are what a command's words are called, such as ROOM and PLACE of "look ROOM [PLACE]"; the last of them
// may repeat.
func placeholders(use string) (words []string, repeats bool) {
	fields := strings.Fields(strings.NewReplacer("[", " ", "]", " ").Replace(use))
	option := false
	for _, field := range fields[min(1, len(fields)):] {
		wasOption := option
		option = strings.HasPrefix(field, "--")
		if option || wasOption {
			continue
		}
		name := strings.TrimRight(field, ".…")
		repeats = repeats || strings.Contains(field, "…") || strings.Contains(field, "...")
		if name != "" {
			words = append(words, name)
		}
	}
	return words, repeats || slices.Contains(words, "STEPS")
}

// rooms are those where seats were taken from here, and a maker's own.
func (c completing) rooms(ctx context.Context) []string {
	found := map[string]string{}
	seats, _ := keptSeats()
	for _, k := range seats {
		if k.Server == c.app.server {
			found[k.Joined.Room] = strings.TrimPrefix(found[k.Joined.Room]+", "+k.Joined.Name, ", ")
		}
	}
	if maker, err := c.app.maker(); err == nil {
		rooms, _ := maker.Rooms(ctx)
		for _, r := range rooms {
			found[r.ID] = r.Name
		}
	}
	return described(found)
}

func (c completing) ownSeats(context.Context) []string {
	seats, _ := keptSeats()
	var names []string
	for _, k := range seats {
		if k.Server == c.app.server && len(c.before) > 0 && k.Joined.Room == roomID(c.before[0]) && !slices.Contains(names, k.Joined.Name) {
			names = append(names, k.Joined.Name)
		}
	}
	return names
}

func (c completing) kits(ctx context.Context) []string {
	maker, err := c.app.maker()
	if err != nil {
		return nil
	}
	kits, _ := maker.Kits(ctx)
	var names []string
	for _, k := range kits {
		names = append(names, fmt.Sprintf("%s\tedition %d", k.Name, k.Edition))
	}
	return names
}

func (c completing) editions(ctx context.Context) []string {
	maker, err := c.app.maker()
	if err != nil || len(c.before) == 0 {
		return nil
	}
	page, _ := maker.KitPage(ctx, c.before[0])
	var numbers []string
	for _, e := range page.Editions {
		numbers = append(numbers, fmt.Sprintf("%d\t%s", e.Number, e.Note))
	}
	return numbers
}

func (c completing) bookmarks(ctx context.Context) []string {
	maker, err := c.app.maker()
	if err != nil {
		return nil
	}
	all, _ := maker.Bookmarks(ctx)
	found := map[string]string{}
	for _, b := range all {
		found[b.ID] = b.Name
	}
	return described(found)
}

func (c completing) makers(ctx context.Context) []string {
	keeper, err := c.app.keeper()
	if err != nil {
		return nil
	}
	all, _ := keeper.Makers(ctx)
	var names []string
	for _, m := range all {
		names = append(names, m.Name)
	}
	return names
}

// seats are those of a room of one's own.
func (c completing) seats(ctx context.Context) []string {
	if len(c.before) == 0 {
		return nil
	}
	room, _ := client.New(c.app.server, "").Room(ctx, roomID(c.before[0]))
	var numbers []string
	for _, s := range room.Seats {
		numbers = append(numbers, fmt.Sprintf("%d\t%s", s.Number, s.Name))
	}
	return numbers
}

// view is what one's seat at the room sees.
func (c completing) view(ctx context.Context) (v client.View) {
	if len(c.before) == 0 {
		return v
	}
	as := ""
	if flag := c.cmd.Flags().Lookup("as"); flag != nil {
		as = flag.Value.String()
	}
	seat, err := c.app.seat(c.before[0], as)
	if err != nil {
		return v
	}
	look, _ := seat.Look(ctx)
	return look.View
}

// places are all places as Steps call them.
func (c completing) places(ctx context.Context) []string {
	v := c.view(ctx)
	var names []string
	for _, p := range v.Places {
		if p.Kind == "loose" || p.Kind == "cell" {
			continue
		}
		name := steps.Quote(p.Name)
		switch {
		case p.Owner == v.You && v.You > 0:
			name = "my " + name
		case p.Owner > 0 && v.Seats[p.Owner-1].Name != "":
			name += " of " + steps.Quote(v.Seats[p.Owner-1].Name)
		case p.Owner > 0:
			name += fmt.Sprintf(" of seat %d", p.Owner)
		}
		names = append(names, name)
	}
	return names
}

func (c completing) players(ctx context.Context) []string {
	var names []string
	for _, s := range c.view(ctx).Seats {
		if s.Name != "" {
			names = append(names, s.Name)
		}
	}
	return names
}

// decks are those of the table, of a kit on the shelf, or of a kit's folder, as the command has it.
func (c completing) decks(ctx context.Context) []string {
	var keys []string
	if flag := c.cmd.Flags().Lookup("kit"); flag != nil {
		k, err := openKit(flag.Value.String())
		if err != nil {
			return nil
		}
		return slices.Sorted(maps.Keys(k.Decks))
	}
	if len(c.before) > 1 { // a room, and a kit
		maker, err := c.app.maker()
		if err != nil {
			return nil
		}
		page, _ := maker.KitPage(ctx, c.before[1])
		for _, d := range page.Decks {
			keys = append(keys, d.Key)
		}
		return keys
	}
	for _, face := range c.view(ctx).Faces {
		if face.Deck != "" && !slices.Contains(keys, face.Deck) {
			keys = append(keys, face.Deck)
		}
	}
	slices.Sort(keys)
	return keys
}

// steps completes the last word of Steps, whether they are quoted as one word of the command line, or not.
func (c completing) steps(ctx context.Context) []string {
	before := strings.Join(c.before[1:], " ")
	if before != "" {
		before += " "
	}
	v := c.view(ctx)
	var offered []string
	for _, way := range steps.Complete(before+c.word, known(v)) {
		offered = append(offered, strings.TrimPrefix(way, before))
	}
	return offered
}

// known are the names that a view has.
func known(v client.View) (k steps.Known) {
	for _, p := range v.Places {
		switch {
		case p.Kind == "loose", p.Kind == "cell":
		case p.Owner == v.You && v.You > 0:
			k.Own = append(k.Own, p.Name)
		default:
			k.Places = append(k.Places, p.Name)
		}
	}
	for _, p := range v.Pieces {
		k.Pieces = append(k.Pieces, steps.KnownPiece{Name: p.Name, Kind: p.Kind})
	}
	for _, s := range v.Seats {
		k.Players = append(k.Players, s.Name)
	}
	for _, d := range v.Decks {
		k.Others = append(k.Others, d.Name)
	}
	for _, f := range v.Faces {
		k.Others = append(k.Others, f.Name)
	}
	return k
}

// described are words with what they are, for shells that show it.
func described(words map[string]string) []string {
	var all []string
	for _, word := range slices.Sorted(maps.Keys(words)) {
		all = append(all, word+"\t"+words[word])
	}
	return all
}
