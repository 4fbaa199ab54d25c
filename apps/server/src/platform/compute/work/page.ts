/** A page as shapes: everything on it is outlines, so that no font has to go with it. Points, y down from the top. */
export interface SheetPage {
  width: number;
  height: number;
  paper: string;
  shapes: (
    | { kind: 'path'; path: string; x: number; y: number; scale: number; color: string }
    | { kind: 'rule'; x: number; y: number; width: number; height: number; color: string }
  )[];
}

/** ISO 216 A4 in points. */
export const A4 = { width: 595.28, height: 841.89 };
