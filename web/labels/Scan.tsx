import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { placeOf } from './place.ts';
import './labels.css';

/** How often a picture is looked at: a hand is not quicker, and the phone stays cool. */
const LOOK_MS = 150;
/** Wider pictures are looked at in less detail: a label held before a camera is large in it. */
const MOST_PIXELS = 800;

/** A track that has a lamp, as phones of one make say it; not in the standard's types yet. */
interface Lamp {
  torch?: boolean;
}

const WHY: Record<string, string> = {
  NotAllowedError:
    'The camera is not allowed here. Allow it for this page in the browser, or type what the label says.',
  NotFoundError: 'This device has no camera. Type what the label says under Find.',
  NotReadableError: 'Another program has the camera. Close that, and try again.',
};

/**
 * Reads one picture of the camera.
 *
 * @returns the page of the label in it; null = none seen; text = a code of something else
 */
async function look(
  video: HTMLVideoElement,
  canvas: HTMLCanvasElement,
): Promise<{ place: string | null; other: string | null }> {
  const { default: jsQR } = await import('jsqr');
  const scale = Math.min(1, MOST_PIXELS / Math.max(1, video.videoWidth));
  canvas.width = Math.round(video.videoWidth * scale);
  canvas.height = Math.round(video.videoHeight * scale);
  const drawn = canvas.getContext('2d', { willReadFrequently: true });
  if (!drawn || canvas.width === 0) return { place: null, other: null };
  drawn.drawImage(video, 0, 0, canvas.width, canvas.height);
  const { data, width, height } = drawn.getImageData(0, 0, canvas.width, canvas.height);
  const text = jsQR(data, width, height)?.data ?? '';
  if (text === '') return { place: null, other: null };
  const place = placeOf(text);
  return { place, other: place === null ? text : null };
}

/**
 * The phone's camera looks for a label and opens its thing. Nothing it sees is kept or sent.
 *
 * @param onPlace what is done with the page of the label instead of opening it
 */
export function Scan({ onClose, onPlace }: { onClose: () => void; onPlace?: (place: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const navigate = useNavigate();
  const [wrong, setWrong] = useState<string | null>(null);
  const [other, setOther] = useState<string | null>(null);
  const [track, setTrack] = useState<MediaStreamTrack | null>(null);
  const [lit, setLit] = useState(false);
  const hasLamp = track !== null && 'getCapabilities' in track && (track.getCapabilities() as Lamp).torch === true;
  const opened = useEffectEvent((place: string) => {
    onClose();
    if (onPlace) onPlace(place);
    else void navigate(place);
  });
  useEffect(() => {
    const ended = new AbortController();
    const over = () => ended.signal.aborted;
    let stream: MediaStream | null = null;
    const canvas = document.createElement('canvas');
    const run = async () => {
      // A page that is not served as one of its own has no camera at all.
      if (!('mediaDevices' in navigator)) throw new DOMException('', 'NotFoundError');
      stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } });
      const seen = video.current;
      if (over() || !seen) return;
      seen.srcObject = stream;
      await seen.play();
      setTrack(stream.getVideoTracks()[0] ?? null);
      while (!over()) {
        const found = await look(seen, canvas);
        if (found.place !== null) {
          opened(found.place);
          return;
        }
        if (found.other !== null) setOther(found.other);
        await new Promise((r) => setTimeout(r, LOOK_MS));
      }
    };
    run().catch((error: unknown) => {
      if (over()) return;
      setWrong(
        WHY[error instanceof Error ? error.name : ''] ??
          'The camera gives no picture. Type what the label says under Find.',
      );
    });
    return () => {
      ended.abort();
      for (const t of stream?.getTracks() ?? []) t.stop();
    };
  }, []);
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Scan a label</DialogTitle>
      <DialogContent>
        {wrong === null ? (
          <div className="scan-view">
            <video ref={video} muted playsInline aria-label="What the camera sees" />
          </div>
        ) : (
          <p role="alert">{wrong}</p>
        )}
        <p role="status">{other === null ? '' : `This code is none of the book’s: ${other.slice(0, 80)}`}</p>
      </DialogContent>
      <DialogActions>
        {hasLamp && (
          <Button
            aria-pressed={lit}
            onClick={() => {
              const on = !lit;
              void track.applyConstraints({ advanced: [{ torch: on } as MediaTrackConstraintSet] }).then(() => {
                setLit(on);
              });
            }}>
            {lit ? 'Lamp off' : 'Lamp on'}
          </Button>
        )}
        <Button onClick={onClose}>Leave it</Button>
      </DialogActions>
    </Dialog>
  );
}
