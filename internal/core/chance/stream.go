// Package chance is where every random choice of a table comes from.
//
// A room has a secret seed and publishes only its hash (Commit). Each draw reads a
// Stream of its own, derived from the seed, the draw's number, which only grows, and
// the salt the seated players contributed. Once the seed is
// disclosed anyone can derive the same streams and recompute every choice:
// neither the service nor a player could have chosen them.
//
//	s := chance.OfDraw(seed, chance.Draw{Number: 17}, salt)
//	order := s.Shuffle(len(cards)) // order[i] is the old index of the card now at i
package chance

import (
	"crypto/sha256"
	"encoding/binary"
	"math/bits"
	"math/rand/v2"
)

// Seed is a room's secret, 32 bytes from the operating system's generator.
type Seed [32]byte

// Stream yields the random choices of one journal entry. It is not safe for
// use by several goroutines.
type Stream struct{ source *rand.ChaCha8 }

// Derive gives a stream by a number alone, for what is no room's: ChaCha8 keyed with
// SHA-256("damselfly chance 1\n" ‖ seed ‖ entry as 8 bytes big-endian ‖ salt).
func Derive(seed Seed, entry uint64, salt string) *Stream {
	h := sha256.New()
	h.Write([]byte("damselfly chance 1\n"))
	h.Write(seed[:])
	_ = binary.Write(h, binary.BigEndian, entry) // a hash never fails to write
	h.Write([]byte(salt))
	return FromKey([32]byte(h.Sum(nil)))
}

// Draw names one draw of a room's chance: the how-manyth it is, counted for the
// whole room, or apart for what a seat draws inside its own hand.
type Draw struct {
	Seat   int
	Number uint64 // from 1
}

// OfDraw gives the stream of one draw: ChaCha8 keyed with SHA-256("damselfly chance
// 2\n" ‖ seed ‖ seat as 8 bytes big-endian ‖ number likewise ‖ salt).
func OfDraw(seed Seed, draw Draw, salt string) *Stream {
	h := sha256.New()
	h.Write([]byte("damselfly chance 2\n"))
	h.Write(seed[:])
	_ = binary.Write(h, binary.BigEndian, uint64(draw.Seat)) // a hash never fails to write
	_ = binary.Write(h, binary.BigEndian, draw.Number)
	h.Write([]byte(salt))
	return FromKey([32]byte(h.Sum(nil)))
}

// FromKey gives the stream of a 32-byte ChaCha8 key.
func FromKey(key [32]byte) *Stream {
	return &Stream{source: rand.NewChaCha8(key)}
}

// Word returns 64 random bits.
func (s *Stream) Word() uint64 { return s.source.Uint64() }

// Below returns a number from 0 to n-1, each exactly as likely as any other.
// n must be at least 1. Words that would favour some numbers are rejected
// (multiply-and-reject, Lemire 2019), never folded with modulo.
func (s *Stream) Below(n uint64) uint64 {
	if n == 0 {
		panic("chance: Below(0)")
	}
	high, low := bits.Mul64(s.source.Uint64(), n)
	if low < n {
		for surplus := -n % n; low < surplus; {
			high, low = bits.Mul64(s.source.Uint64(), n)
		}
	}
	return high
}

// Shuffle returns one of the n! orders of n things, each equally likely:
// order[i] is the former index of what is now at i. It is the exchange shuffle
// (Fisher and Yates 1938, Durstenfeld 1964).
func (s *Stream) Shuffle(n int) []uint32 {
	order := make([]uint32, n)
	for i := range order {
		order[i] = uint32(i)
	}
	for i := n - 1; i > 0; i-- {
		j := s.Below(uint64(i) + 1)
		order[i], order[j] = order[j], order[i]
	}
	return order
}
