import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";
import { layOut } from "../../map/layout";
import { filledIn } from "../../study/document/types";
import { fileNameOf, saveFile } from "../../ui/files";
import { MAIN_BUTTON, QUIET_BUTTON } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";
import { NotKeptList } from "./NotKeptList";

interface ExportDialogProps {
  study: Schemas["StudyEntry"];
  onClose: () => void;
}

/** A study as a process for people who draw: what of it the file keeps is said before it is saved. */
export function ExportDialog({ study, onClose }: ExportDialogProps) {
  const written = useQuery({ queryKey: ["process", study.id, study.version], queryFn: () => writtenProcess(study) });
  const save = () => {
    if (written.data) saveFile(written.data.text, `${fileNameOf(study.name)}.bpmn`, "application/xml");
    onClose();
  };
  return (
    <Modal open onClose={onClose} title={`“${study.name}” as a process`} wide>
      <p className="mb-4 text-ink-2">
        A BPMN 2.0 file with its diagram; times, people, costs and scenarios stand in it in the form of BPSim 1.0.
      </p>
      {written.isPending && <p>Drawing it …</p>}
      {written.isError && <p role="alert">{written.error.message}</p>}
      {written.data?.not_kept.length === 0 && <p>All of the study is in the file.</p>}
      {written.data && <NotKeptList notes={written.data.not_kept} title="What the file does not keep" />}
      <p className="sticky -bottom-6 -mb-6 flex justify-end gap-3 bg-sheet py-4">
        <button type="button" className={QUIET_BUTTON} onClick={onClose}>
          Cancel
        </button>
        <button type="button" className={MAIN_BUTTON} disabled={!written.data} onClick={save}>
          Save the file
        </button>
      </p>
    </Modal>
  );
}

/** The file of a study, with its steps where the map has them. */
async function writtenProcess({ id }: Schemas["StudyEntry"]) {
  const { document } = await ask(api.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } }));
  const study = filledIn(document);
  const isStep = new Set(study.steps.map((step) => step.id));
  const stops = layOut(study).stops.flatMap((stop) => (isStep.has(stop.id) ? [[stop.id, [stop.x, stop.y]]] : []));
  return ask(api.POST("/api/processes/write", { body: { study: document, positions: Object.fromEntries(stops) } }));
}
