package sheet

import (
	"image"

	"damselfly.example/damselfly/internal/core/sheet/guess"
	"damselfly.example/damselfly/internal/core/sheet/pixels"
)

// Grid is how the cells lie on a sheet.
type Grid = pixels.Grid

// Margin is the rim around all cells, in pixels.
type Margin = pixels.Margin

// Gutter is the space between two cells, in pixels.
type Gutter = pixels.Gutter

// Guessed is a grid read off a picture.
type Guessed = guess.Guessed

// MaxCells bounds columns × rows of one sheet.
const MaxCells = pixels.MaxCells

// Sure is the confidence from which a guess is taken at its word.
const Sure = guess.Sure

// Sides of a cell and of a margin, in their order.
const (
	left   = pixels.Left
	top    = pixels.Top
	right  = pixels.Right
	bottom = pixels.Bottom
)

// Around is a margin of the same width on all sides.
func Around(n int) Margin { return pixels.Around(n) }

// Between is a gutter of the same width across and down.
func Between(n int) Gutter { return pixels.Between(n) }

// Guess reads a grid off a picture, as far as it is not given. The best guess comes first; there is always one.
func Guess(sheet image.Image, given Grid) []Guessed {
	seen, _ := guess.Look(sheet, savedWithLoss(sheet), given, never)
	return seen.Guesses
}

// never is of what is not stopped.
func never() error { return nil }
