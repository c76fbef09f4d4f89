import { create } from 'zustand';

/** The `/` line. */
export const useLine = create<{ open: boolean }>(() => ({ open: false }));
export const openLine = (open: boolean): void => useLine.setState({ open });
