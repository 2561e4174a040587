// Package play is a table in play as its people have it, without anything that keeps or
// sends it: requests are read and bound to cards, done, settled, and told to each viewer
// as far as they may know. It only computes; chance, time and keys are handed in.
//
//	g := play.New(t, key, play.Options{Spectators: true})
//	plan, err := g.Plan(2, play.Request{Steps: "draw 2 from weather"})
//	done, refusal := g.Do(play.Actor{Seat: 2}, plan.Action, play.Moment{Now: now, Entry: 7, Chance: streams})
//	shown := g.Show(done) // shown.To(3) is what seat 3 is told of it
package play

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"

	"damselfly.example/damselfly/internal/core/sight"
	"damselfly.example/damselfly/internal/core/steps"
	"damselfly.example/damselfly/internal/core/table"
)

// Viewer is a seat, or 0 for somebody who watches.
type Viewer = sight.Viewer

// Options of a game.
type Options struct {
	Spectators bool        // whether people may watch while the host has not said
	Pictures   sight.Names // how pictures are named outside
}

// Game is a table in play. It belongs to one goroutine.
type Game struct {
	table   *table.Table
	gate    *sight.Gate
	life    string // names the gate's life: handles are of this life
	options Options
	lines   []kept // the newest lines of the log
	grips   map[Viewer]grip
}

// New puts a table in play. The key must be fresh and secret; handles are made of it.
func New(t *table.Table, key [32]byte, o Options) *Game {
	life := sha256.Sum256(key[:])
	return &Game{table: t, gate: sight.NewGate(t, key, steps.Say, o.Pictures), life: hex.EncodeToString(life[:6]), options: o, grips: map[Viewer]grip{}}
}

// Table is the table, to be read and not to be changed.
func (g *Game) Table() *table.Table { return g.table }

// View is the table as somebody may see it.
func (g *Game) View(viewer Viewer) sight.View { return g.gate.View(g.table, viewer) }

// Begin is the view of whoever begins to be shown what is done.
func (g *Game) Begin(viewer Viewer) sight.View { return g.gate.Begin(g.table, viewer) }

// Gate names the life of the game as one viewer has it: who takes a seat begins anew.
func (g *Game) Gate(viewer Viewer) string {
	return fmt.Sprintf("%s-%d-%d", g.life, viewer, g.tenure(viewer))
}

// Viewers is how many viewers there are: the seats and, at 0, those who watch.
func (g *Game) Viewers() int { return len(g.table.Chairs) + 1 }
