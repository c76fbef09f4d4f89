/** What asks for a dialog whose code comes only then: an import, copies. */
import { create } from 'zustand';

export const useImportingState = create<{ on: boolean }>(() => ({ on: false }));
export const useImporting = (): boolean => useImportingState((s) => s.on);

export const useCopies = create<{ open: boolean }>(() => ({ open: false }));
export const openCopies = (open: boolean): void => useCopies.setState({ open });

/** The kits of the project and the library; or a new one of what is picked. */
export const useKits = create<{ open: 'list' | 'make' | undefined }>(() => ({ open: undefined }));
export const openKits = (open: 'list' | 'make' | undefined): void => useKits.setState({ open });

export const useScripts = create<{ open: boolean }>(() => ({ open: false }));
export const openScripts = (open: boolean): void => useScripts.setState({ open });
