import { Workbench } from '@/features/shell/workbench';

export default function Page() {
  return <Workbench />;
}
