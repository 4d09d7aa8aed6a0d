// Which house is on the desk, and how it comes and goes.
import { Button, Menu } from "@mantine/core";
import { useRef } from "react";
import { examples, hasFolders, type OpenedHouse } from "./houses.js";

interface HouseMenuProps {
  readonly house: OpenedHouse;
  readonly isChanged: boolean;
  readonly hasServed: boolean;
  readonly onExample: (name: (typeof examples)[number]["name"]) => void;
  readonly onFirst: () => void;
  readonly onServed: () => void;
  readonly onFolder: () => void;
  readonly onFiles: (files: readonly File[]) => void;
  readonly onSave: () => void;
  readonly onDownload: () => void;
  readonly onLink: () => void;
  readonly onNewFile: () => void;
}

export function HouseMenu(props: HouseMenuProps) {
  const { house, isChanged, hasServed, onFiles } = props;
  const input = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const { kind } = house.origin;
  const canSave = kind === "folder" || kind === "served";
  const take = (list: FileList | null) => list && onFiles([...list]);
  return (
    <>
      <Menu position="bottom-start" withinPortal>
        <Menu.Target>
          <Button variant="default" size="compact-sm" aria-label={`House: ${house.name}`}>
            {house.name}
            {isChanged && <span className="quiet">, changed</span>} ▾
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Label>Open</Menu.Label>
          <Menu.Item onClick={props.onFirst}>A first rule, by a few questions…</Menu.Item>
          {hasServed && <Menu.Item onClick={props.onServed}>The house of modrik demo</Menu.Item>}
          {hasFolders() ? (
            <Menu.Item onClick={props.onFolder}>A folder of this machine…</Menu.Item>
          ) : (
            <Menu.Item onClick={() => folder.current?.click()}>A folder of this machine…</Menu.Item>
          )}
          <Menu.Item onClick={() => input.current?.click()}>Files…</Menu.Item>
          <Menu.Divider />
          <Menu.Label>Examples</Menu.Label>
          {examples.map(({ name, says }) => (
            <Menu.Item key={name} onClick={() => props.onExample(name)}>
              {name} <span className="quiet">{says}</span>
            </Menu.Item>
          ))}
          <Menu.Divider />
          <Menu.Label>This house</Menu.Label>
          <Menu.Item onClick={props.onNewFile}>Another file…</Menu.Item>
          <Menu.Item disabled={!canSave || !isChanged} onClick={props.onSave}>
            Save {kind === "served" ? "to the files of the running house" : "to its folder"}
          </Menu.Item>
          <Menu.Item onClick={props.onDownload}>Download</Menu.Item>
          <Menu.Item onClick={props.onLink}>Copy a link that holds it</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {canSave && isChanged && (
        <Button size="compact-sm" onClick={props.onSave}>
          Save
        </Button>
      )}
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Files of a house"
        accept=".modrik,.ics,.csv"
        onChange={({ currentTarget }) => take(currentTarget.files)}
      />
      <input
        ref={(element) => {
          folder.current = element;
          element?.setAttribute("webkitdirectory", "");
        }}
        type="file"
        hidden
        aria-label="Folder of a house"
        onChange={({ currentTarget }) => take(currentTarget.files)}
      />
    </>
  );
}
