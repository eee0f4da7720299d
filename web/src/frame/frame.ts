import { create } from 'zustand';

/** Which dialog of the frame is open. */
export const useFrame = create<{ dialog: 'shortcuts' | 'revisions' | 'rename' | null }>()(() => ({
  dialog: null,
}));

export function closeDialog() {
  useFrame.setState({ dialog: null });
}
