import { Button } from '@mui/material';
import { lazy, Suspense, useState } from 'react';

const Scan = lazy(() => import('./Scan.tsx').then((m) => ({ default: m.Scan })));

/** Looks for a label by the camera, for a list that knows what to do with the thing it names. */
export function ScanButton({ onPlace }: { onPlace: (place: string) => void }) {
  const [scanning, setScanning] = useState(false);
  return (
    <>
      <Button
        variant="outlined"
        onClick={() => {
          setScanning(true);
        }}>
        Scan by camera
      </Button>
      {scanning && (
        <Suspense>
          <Scan
            onPlace={onPlace}
            onClose={() => {
              setScanning(false);
            }}
          />
        </Suspense>
      )}
    </>
  );
}
