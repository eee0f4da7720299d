import { useEffect, useRef } from 'react';
import { choosePiece, chooseScene } from '../session/choice';
import { pieceOf, sceneOf } from '../session/lookup';
import { useDocument } from '../session/store';

/** Keeps the open scene and the chosen piece in the address, so that they survive a reload and can be sent. */
export function usePlace() {
  const scene = useDocument((state) => state.scene);
  const piece = useDocument((state) => state.piece);
  const taken = useRef(false);
  useEffect(() => {
    if (!taken.current) {
      taken.current = true;
      if (takeFromAddress()) return;
    }
    const place = new URLSearchParams();
    if (scene) place.set('scene', scene);
    if (piece) place.set('piece', piece);
    window.history.replaceState(window.history.state, '', `?${place}`);
  }, [scene, piece]);
}

/** Chooses what the address names, as far as it is there; false where that changes nothing. */
function takeFromAddress(): boolean {
  const { document, scene, piece } = useDocument.getState();
  const place = new URLSearchParams(window.location.search);
  const wanted = sceneOf(document, place.get('scene'));
  if (!wanted) return false;
  const chosen = pieceOf(wanted, place.get('piece'))?.id ?? null;
  if (wanted.id === scene && chosen === piece) return false;
  if (wanted.id !== scene) chooseScene(wanted.id);
  if (chosen) choosePiece(chosen);
  return true;
}
