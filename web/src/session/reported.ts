import { useLayoutEffect } from 'react';
import { create } from 'zustand';
import type { Schemas } from '../core/client';
import { type Reported, useBoxes, useReport } from './asking';

/** What the core says of the open scene and the chosen piece. */
interface ReportedScene extends Reported {
  boxes: Schemas['PieceBox'][];
}

const nothing: ReportedScene = { report: null, fresh: false, failure: null, boxes: [] };

export const useReported = create<ReportedScene>()(() => nothing);

/** Keeps it up with the document, for as long as the part is on the screen. */
export function useKeepReported() {
  const { report, fresh, failure } = useReport();
  const boxes = useBoxes();
  useLayoutEffect(
    () => useReported.setState({ report, fresh, failure, boxes }),
    [report, fresh, failure, boxes],
  );
  useLayoutEffect(() => () => useReported.setState(nothing), []);
}
