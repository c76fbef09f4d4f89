/** What asks for a dialog whose code comes only then: an import, copies. */
import { create } from 'zustand';

export const useImportingState = create<{ on: boolean }>(() => ({ on: false }));
export const useImporting = (): boolean => useImportingState((s) => s.on);

export const useCopies = create<{ open: boolean }>(() => ({ open: false }));
export const openCopies = (open: boolean): void => useCopies.setState({ open });

/** The kits of the project and the library; or a new one of what is picked. */
export const useKits = create<{ open: 'list' | 'make' | undefined }>(() => ({ open: undefined }));
export const openKits = (open: 'list' | 'make' | undefined): void => useKits.setState({ open });

/** The shelf of projects, examples and machines to begin from. */
export type Shelf = 'projects' | 'examples' | 'templates';
export const useShelf = create<{ open: Shelf | undefined }>(() => ({ open: undefined }));
export const openShelf = (open: Shelf | undefined): void => useShelf.setState({ open });

/** The page of help, and the walk through a first machine. */
export const useHelp = create<{ open: boolean; walking: boolean }>(() => ({ open: false, walking: false }));
export const openHelp = (open: boolean): void => useHelp.setState({ open });
export const walk = (walking: boolean): void => useHelp.setState({ walking, open: false });

export const useScripts = create<{ open: boolean }>(() => ({ open: false }));
export const openScripts = (open: boolean): void => useScripts.setState({ open });

/** Drawing linkages in the scene, as on paper. */
export const useSketch = create<{ on: boolean }>(() => ({ on: false }));
export const sketch = (on: boolean): void => useSketch.setState({ on });
