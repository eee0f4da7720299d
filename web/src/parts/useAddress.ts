import { useEffect, useState } from 'react';

/** An address of a blob for as long as it is shown. */
export function useAddress(blob: Blob | null | undefined): string | null {
  const [address, setAddress] = useState<string | null>(null);
  useEffect(() => {
    if (!blob) return setAddress(null);
    const made = URL.createObjectURL(blob);
    setAddress(made);
    return () => URL.revokeObjectURL(made);
  }, [blob]);
  return address;
}
