/** Two short tones and a shake; silent where the phone forbids it. */
export function ring(): void {
  if ('vibrate' in navigator) navigator.vibrate([200, 100, 200]);
  try {
    const audio = new AudioContext();
    for (const at of [0, 0.35]) {
      const tone = audio.createOscillator();
      tone.frequency.value = 880;
      tone.connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
  } catch {
    // No sound on this device: the words on the page stay.
  }
}

/** Keeps the screen on while something drains, where the phone allows it. */
export function stayAwake(): () => void {
  let lock: WakeLockSentinel | null = null;
  let over = false;
  if ('wakeLock' in navigator) {
    navigator.wakeLock
      .request('screen')
      .then((l) => {
        if (over) void l.release();
        else lock = l;
      })
      .catch(() => undefined);
  }
  return () => {
    over = true;
    void lock?.release();
  };
}
