package service

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"time"
)

// LockFile is the file under the data folder that a service holds locked while it runs or starts. It has the
// number of its process.
const LockFile = "service.lock"

// lockPatience is how long a service that is ending is waited for.
const lockPatience = time.Second

// lock has the data folder for this service alone, until the file is closed.
func lock(data string) (*os.File, error) {
	if err := os.MkdirAll(data, 0o700); err != nil {
		return nil, err
	}
	file, err := os.OpenFile(filepath.Join(data, LockFile), os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return nil, err
	}
	for end := time.Now().Add(lockPatience); ; time.Sleep(50 * time.Millisecond) {
		err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB)
		if err == nil {
			break
		}
		if !errors.Is(err, syscall.EWOULDBLOCK) || time.Now().After(end) {
			text, _ := os.ReadFile(file.Name())
			_ = file.Close()
			return nil, fmt.Errorf("another service uses the data folder %s (process %s); end it, or give --data another folder", data, strings.TrimSpace(string(text)))
		}
	}
	if err := file.Truncate(0); err != nil {
		return nil, errors.Join(err, file.Close())
	}
	_, err = file.WriteAt([]byte(fmt.Sprintln(os.Getpid())), 0)
	return file, err
}

// Running reports whether a service runs or starts on a data folder.
func Running(data string) bool {
	file, err := os.Open(filepath.Join(data, LockFile))
	if err != nil {
		return false
	}
	defer file.Close()
	return syscall.Flock(int(file.Fd()), syscall.LOCK_SH|syscall.LOCK_NB) != nil // closing lets go
}
