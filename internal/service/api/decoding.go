package api

import (
	"context"
	"fmt"

	"golang.org/x/sync/semaphore"

	"damselfly.example/damselfly/internal/wire"
)

// maxDecoded is how many bytes of decoded pictures the whole service holds at once. A
// small file can be a large picture.
const maxDecoded = 512 << 20

// bytesAPixel is what a pixel takes while a picture is made into one for the table: as it
// was decoded, which is 8 bytes at 16 bits a colour, as it is encoded, and shrunk.
const bytesAPixel = 16

// wholeSheet is what reading a sheet counts as, in pixels: two at once for the service.
const wholeSheet = maxDecoded / 2 / bytesAPixel

func newDecoding() *semaphore.Weighted { return semaphore.NewWeighted(maxDecoded) }

// decoding waits until so many pixels may be decoded. release gives them back.
func (a *API) decoding(ctx context.Context, pixels int) (release func(), err error) {
	weight := min(int64(pixels)*bytesAPixel, maxDecoded)
	c := callerOf(ctx)
	done, err := a.ownTurns.Wait(ctx, fmt.Sprint(c.maker.ID, " ", c.seat.Room, " ", c.seat.Seat)) // one's own stand in one's own way, not in others'
	if err != nil {
		return nil, err
	}
	if a.decoded.Acquire(ctx, weight) != nil {
		done()
		return nil, wire.ServiceIsBusy.With(wire.Problem{Detail: "Many pictures are being read just now. Try again in a moment."})
	}
	return func() { a.decoded.Release(weight); done() }, nil
}
