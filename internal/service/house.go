package service

import (
	"context"
	"log/slog"
	"syscall"
	"time"

	"damselfly.example/damselfly/internal/service/api"
	"damselfly.example/damselfly/internal/service/room"
	"damselfly.example/damselfly/internal/service/store"
)

// housekeeping is what a service does for itself from time to time: it takes away what was removed long ago, and
// rooms that nobody uses, and looks at the disk.
type housekeeping struct {
	records   *store.Store
	rooms     *room.Rooms
	log       *slog.Logger
	keepRooms int // days; 0: rooms stay
	diskFree  func() (int64, error)
}

// How often the house is kept, and the disk looked at.
const (
	keepEvery = 6 * time.Hour
	lookEvery = 5 * time.Minute
	keepFirst = 10 * time.Minute // after the start, which is busy enough
)

// keep keeps the house until the end.
func (h *housekeeping) keep(ctx context.Context) {
	next := time.After(keepFirst)
	short := false
	for {
		short = h.lookAtDisk(short)
		select {
		case <-ctx.Done():
			return
		case <-next:
			h.tidy(ctx)
			next = time.After(keepEvery)
		case <-time.After(lookEvery):
		}
	}
}

// lookAtDisk warns when the disk runs short, once until it does not any more.
func (h *housekeeping) lookAtDisk(was bool) (short bool) {
	if h.diskFree == nil {
		return false
	}
	free, err := h.diskFree()
	if err != nil {
		return was
	}
	if short = free < api.DiskShort; short && !was {
		h.log.Warn("the disk runs short: when it is full, nothing can be saved any more", "mebibytes_left", free>>20)
	}
	return short
}

// tidy takes away what is to go.
func (h *housekeeping) tidy(ctx context.Context) {
	if h.keepRooms > 0 {
		removed, err := h.records.RemoveUnused(ctx, h.keepRooms, store.Now())
		for _, r := range removed {
			h.rooms.Remove(r.ID)
			h.log.Info("an unused room was removed", "room", r.ID, "name", r.Name, "days", h.keepRooms)
		}
		if err != nil {
			h.log.Warn("removing unused rooms", "error", err)
		}
	}
	erased, err := h.records.Erase(ctx, store.Now())
	if err != nil && ctx.Err() == nil {
		h.log.Warn("erasing what was removed long ago", "error", err)
	}
	if erased != (store.Erased{}) {
		h.log.Info("what was removed long ago was erased", "rooms", erased.Rooms, "kits", erased.Kits, "files", erased.Files, "pictures", erased.Pictures)
	}
}

// diskFree is how many bytes are left where a folder lies, for who is not root.
func diskFree(folder string) (int64, error) {
	var s syscall.Statfs_t
	if err := syscall.Statfs(folder, &s); err != nil {
		return 0, err
	}
	return int64(s.Bavail) * s.Bsize, nil //nolint:unconvert // the types differ between systems
}
