/** Files that come in from outside: checked whole before anything of them is kept. */
import { KITS_FORMAT, Refusal, complete } from '@vim-pivot/core/page';
import { modelWorker, parseModel } from '../../workers/client';
import { addProject, useDocument } from '../document/document';

const { setState: set } = useDocument;

/** Opens a model file as another project; a file that is refused changes nothing. */
export async function importFile(file: File): Promise<void> {
  if (/\.(stl|obj|ply|glb|gltf|step|stp|iges|igs)$/i.test(file.name)) return (await import('./import')).startImport(file);
  if (/\.zip$/i.test(file.name)) return (await import('./archive')).openProjectFile(file);
  try {
    if (file.size > 64e6)
      throw new Refusal([{ code: 'file-large', severity: 'error', message: 'The file is larger than 64 MB, too large for a model file.' }]);
    if (/\.urdf$/i.test(file.name)) {
      const { model, left } = await modelWorker().ask({ type: 'read-urdf', text: await file.text() }, 'read-urdf');
      await addProject(complete(model));
      if (left.length > 0) set({ notices: left });
      return;
    }
    const text = await file.text();
    if (text.slice(0, 200).includes(KITS_FORMAT))
      return await (await import('../adding/kits')).takeKits((await modelWorker().ask({ type: 'read-kits', text }, 'kits')).kits);
    const { model, faults } = await parseModel(text);
    if (faults.length > 0) set({ refused: { file: file.name, diagnoses: faults, model } });
    else await addProject(model);
  } catch (e) {
    if (!(e instanceof Refusal)) throw e;
    set({ refused: { file: file.name, diagnoses: e.diagnoses } });
  }
}
