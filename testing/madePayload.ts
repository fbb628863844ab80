import protobuf from "protobufjs";

/**
 * The part of the update manifest that counts here, written from memory of AOSP update_engine's
 * `update_metadata.proto`; encoded by a protobuf library that the product does not use.
 */
const PROTO = `
syntax = "proto2";
message Extent { optional uint64 start_block = 1; optional uint64 num_blocks = 2; }
message PartitionInfo { optional uint64 size = 1; optional bytes hash = 2; }
message InstallOperation {
  required int32 type = 1;
  optional uint64 data_offset = 2;
  optional uint64 data_length = 3;
  repeated Extent src_extents = 4;
  optional uint64 src_length = 5;
  repeated Extent dst_extents = 6;
  optional uint64 dst_length = 7;
  optional bytes data_sha256_hash = 8;
}
message PartitionUpdate {
  required string partition_name = 1;
  optional PartitionInfo old_partition_info = 6;
  optional PartitionInfo new_partition_info = 7;
  repeated InstallOperation operations = 8;
}
message DynamicPartitionGroup { required string name = 1; optional uint64 size = 2; repeated string partition_names = 3; }
message DynamicPartitionMetadata { repeated DynamicPartitionGroup groups = 1; }
message DeltaArchiveManifest {
  optional uint32 block_size = 3;
  optional uint64 signatures_offset = 4;
  optional uint32 minor_version = 12;
  repeated PartitionUpdate partitions = 13;
  optional int64 max_timestamp = 14;
  optional DynamicPartitionMetadata dynamic_partition_metadata = 15;
  optional string security_patch_level = 18;
}`;

const Manifest = protobuf.parse(PROTO, { keepCase: true }).root.lookupType("DeltaArchiveManifest");

/** One operation: its type, its data as it stands in the payload, the blocks it fills. */
export interface OperationToMake {
  readonly type: number;
  readonly data: Uint8Array;
  readonly blocks: readonly (readonly [number, number])[];
  readonly digest?: Uint8Array;
}

export interface PartitionToMake {
  readonly name: string;
  readonly bytes: number;
  readonly digest: Uint8Array;
  readonly operations: readonly OperationToMake[];
}

/** The bytes of a payload with these partitions. */
export function makePayload(
  partitions: readonly PartitionToMake[],
  about: { readonly minor?: number; readonly patch?: string; readonly groups?: object[] } = {},
): Uint8Array {
  const data: Uint8Array[] = [];
  let offset = 0;
  const place = (bytes: Uint8Array) => {
    data.push(bytes);
    offset += bytes.length;
    return offset - bytes.length;
  };
  const manifest = Manifest.encode(
    Manifest.create({
      block_size: 4096,
      minor_version: about.minor ?? 0,
      ...(about.patch && { security_patch_level: about.patch }),
      ...(about.groups && { dynamic_partition_metadata: { groups: about.groups } }),
      partitions: partitions.map((p) => ({
        partition_name: p.name,
        new_partition_info: { size: p.bytes, hash: p.digest },
        operations: p.operations.map((o) => ({
          type: o.type,
          data_offset: place(o.data),
          data_length: o.data.length,
          dst_extents: o.blocks.map(([start_block, num_blocks]) => ({ start_block, num_blocks })),
          ...(o.digest && { data_sha256_hash: o.digest }),
        })),
      })),
    }),
  ).finish();
  const bytes = new Uint8Array(24 + manifest.length + offset);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode("CrAU"));
  view.setBigUint64(4, 2n, false);
  view.setBigUint64(12, BigInt(manifest.length), false);
  bytes.set(manifest, 24);
  let at = 24 + manifest.length;
  for (const part of data) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}
