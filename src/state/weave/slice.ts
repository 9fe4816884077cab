/** What Weave shows and works on. */
export interface WeaveSlice {
  placeId?: string;
}

export const weave: WeaveSlice = {};
